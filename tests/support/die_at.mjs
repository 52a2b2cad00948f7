// Loaded before the worker: ends the process, as pulling the plug does, in place of its N-th statement on a database.
import Database from 'better-sqlite3';

const at = Number(process.env.DIE_AT);
let done = 0;
const statement = Object.getPrototypeOf(new Database(':memory:').prepare('SELECT 1'));
for (const name of ['run', 'get', 'all']) {
  const plain = statement[name];
  statement[name] = function (...values) {
    // The first thing it does of interest is to read postbacks; what comes before only opens files.
    if (done > 0 || /FROM postbacks/.test(this.source)) done += 1;
    if (done === at) process.kill(process.pid, 'SIGKILL');
    return plain.apply(this, values);
  };
}
