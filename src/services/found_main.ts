import { createInterface } from 'node:readline/promises';
import { randomBytes } from 'node:crypto';
import { isCurrency } from '@/core/money/currency';
import { openBooks } from '@/store/books';
import { openRollupsForReading } from '@/store/rollups';
import { openTrafficForReading } from '@/store/traffic';
import { createProgram } from './programs';
import { Refusal } from './refusal';
import { hashPassword } from './secrets';
import { type Stores, installationSecret, storeFile } from './stores';

/** Asks for what a first program needs, and creates it with its owner. */
const stores: Stores = {
  books: openBooks(storeFile('books')),
  traffic: openTrafficForReading(storeFile('traffic')),
  rollups: openRollupsForReading(storeFile('rollups')),
  secret: installationSecret(),
  now: Date.now,
  randomBytes,
};
const prompt = createInterface({ input: process.stdin, output: process.stdout });
async function ask(
  question: string,
  preset: string,
  problem: (text: string) => string | undefined = () => undefined,
): Promise<string> {
  for (;;) {
    const text = (await prompt.question(`${question}${preset ? ` [${preset}]` : ''}: `)).trim() || preset;
    const reason = text === '' ? 'This is needed.' : problem(text);
    if (!reason) return text;
    console.log(`  ${reason}`);
  }
}

const currency = await ask('Currency of the program', 'EUR', (code) =>
  isCurrency(code) ? undefined : 'Write an ISO 4217 code like EUR.',
);
const fields = {
  name: await ask('Name of the program', ''),
  timeZone: await ask('Time zone', 'Europe/Amsterdam'),
  country: await ask('Country', 'NL'),
  trackingOrigin: await ask('Tracking host', 'https://go.shop.example'),
  fallback: await ask('Where visitors go when nothing else fits', 'https://shop.example/'),
  minimumPayout: await ask('Minimum payout', '50.00'),
  payoutDay: await ask('Payout day of the month', '5'),
  privacy: await ask('Visitor addresses are kept (whole, cut, hash)', 'cut'),
};
const owner = {
  name: await ask('Your name', ''),
  email: await ask('Your e-mail', '', (text) => (text.includes('@') ? undefined : 'That is no e-mail address.')),
};
const password = await ask('A password of at least 12 characters', '', (text) =>
  text.length >= 12 ? undefined : 'It needs at least 12 characters.',
);
prompt.close();
try {
  const hashed = await hashPassword(password);
  const postbackKey = stores.books.inTransaction(() => {
    const program = createProgram(stores, fields, currency);
    stores.books.users.insert({
      ...owner,
      programId: program.id,
      role: 'owner',
      partnerId: null,
      password: hashed,
      now: Date.now(),
    });
    return program.postbackKey;
  });
  console.log(
    `\n${fields.name} is founded. The postback key, shown only now:\n${postbackKey}\nStart it with ./brivet start`,
  );
} catch (error) {
  if (!(error instanceof Refusal)) throw error;
  for (const { field, reason } of error.problems) console.error(`${field}: ${reason}`);
  process.exitCode = 1;
}
