import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, test } from 'vitest';
import { addDays, day, zonedIso } from '../time/days';
import { DELIMITERS, FILE_FIELDS, detectReading, fileRows, isoFrom, lineFields, plainAmount } from './file';

const minor = fc.integer({ min: 0, max: 1_000_000_000 });
const someDay = fc.integer({ min: 0, max: 4000 }).map((days) => addDays(day('2024-01-01'), days));
const grouped = (whole: string, separator: string): string => whole.replace(/\B(?=(\d{3})+$)/g, separator);

test('an amount is the same however it is written', () => {
  fc.assert(
    fc.property(minor, fc.constantFrom('', '€', '€ ', 'EUR '), fc.boolean(), (cents, sign, separated) => {
      const [whole, part] = [String(Math.floor(cents / 100)), String(cents % 100).padStart(2, '0')];
      const plain = `${whole}.${part}`;
      expect(plainAmount(`${sign}${grouped(whole, separated ? '.' : '')},${part}`, ',')).toBe(plain);
      expect(plainAmount(`${grouped(whole, separated ? ',' : '')}.${part}${sign}`, '.')).toBe(plain);
      expect(plainAmount(`${grouped(whole, separated ? ' ' : '')},${part}`, ',')).toBe(plain);
    }),
  );
});

test('a date is the same however it is written, and a time keeps to the zone', () => {
  fc.assert(
    fc.property(someDay, fc.constantFrom('-', '.', '/'), (of, sign) => {
      const [year = '', month = '', date = ''] = of.split('-');
      expect(isoFrom([date, month, year].join(sign), 'dmy')).toBe(of);
      expect(isoFrom(`${Number(month)}${sign}${Number(date)}${sign}${year} 9:05`, 'mdy')).toBe(`${of}T09:05`);
      expect(isoFrom(`${of}T09:05:30Z`, 'iso')).toBe(`${of}T09:05:30Z`);
    }),
  );
  for (const wrong of ['31-02-2026', '2026-11-24', '24-11-26', '24-11-2026 noon', ''])
    expect(isoFrom(wrong, 'dmy')).toBeUndefined();
  const fields = (time: string) =>
    lineFields([time], { delimiter: ';', decimal: ',', dates: 'dmy', columns: ['time'], event: 'order' }, (local) =>
      zonedIso(local, 'Europe/Amsterdam'),
    ).fields.time;
  expect(fields('24-11-2026 14:05')).toContain('+01:00');
  expect(fields('24-07-2026 14:05')).toContain('+02:00');
  expect(fields('24-11-2026 14:05+05:00')).toBe('2026-11-24T14:05+05:00');
});

describe('how a file is written', () => {
  test('is found out from its lines', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...(Object.keys(DELIMITERS) as (keyof typeof DELIMITERS)[])),
        fc.constantFrom(',' as const, '.' as const),
        fc.array(fc.record({ cents: minor, of: someDay, order: fc.string() }), { minLength: 12, maxLength: 30 }),
        (delimiter, decimal, rows) => {
          const cells = rows.map(({ cents, of, order }, i) => {
            const [year, month, date] = of.split('-');
            const amount = (cents / 100 + 0.01).toFixed(2).replace('.', decimal);
            return [`#${i} ${order}`, amount, `${i === 0 ? '24' : date}-${i === 0 ? '11' : month}-${year}`];
          });
          const text = Papa.unparse([['Order number', 'Total', 'Date'], ...cells], { delimiter, quotes: true });
          const { reading, head } = detectReading(text, 'order');
          const [first] = reading.dates === 'mdy' ? [] : ['ok'];
          expect([reading.delimiter, reading.decimal, first]).toEqual([delimiter, decimal, 'ok']);
          expect([reading.columns, head]).toEqual([
            ['order', 'amount', 'time'],
            ['Order number', 'Total', 'Date'],
          ]);
          expect(fileRows(text, delimiter).length).toBe(rows.length + 1);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('says nothing of columns that it does not know, and never reads two as one', () => {
    const { reading } = detectReading('amount;value;shade;x_supplier\n1,00;2,00;blue;Clay & Co');
    expect(reading.columns).toEqual(['amount', '', '', 'x_supplier']);
    expect(FILE_FIELDS).toContain('amount');
  });
});
