console.log('bench')
