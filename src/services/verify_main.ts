import { openStores } from './stores';
import { verify } from './verify';

const findings = verify(openStores());
for (const { what, checked, wrong } of findings) {
  console.log(`${wrong.length === 0 ? 'ok   ' : 'WRONG'} ${what} (${checked.toLocaleString('en')} checked)`);
  for (const line of wrong.slice(0, 20)) console.log(`        ${line}`);
  if (wrong.length > 20) console.log(`        and ${wrong.length - 20} more`);
}
process.exitCode = findings.some(({ wrong }) => wrong.length > 0) ? 1 : 0;
