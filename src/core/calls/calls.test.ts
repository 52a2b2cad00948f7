import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { CALL_OUTCOMES, type CallInSight, judgeCall } from './judge';
import { readCall, withoutCaller } from './report';
import { type CallTerms, USUAL_CALL_TERMS, callTermsSchema } from './terms';

const ZONE = 'Europe/Amsterdam';
const at = (local: string): number => Date.parse(`${local}+01:00`);
const CALL: CallInSight = {
  ...{ time: at('2026-11-24T14:00:00'), length: 120, answered: true, anonymous: false, onDay: 0, goingOn: 0 },
};
const judged = (call: Partial<CallInSight>, terms: Partial<CallTerms> = {}): string =>
  judgeCall({ ...CALL, ...call }, { ...USUAL_CALL_TERMS, ...terms }, ZONE).outcome;

describe('a call', () => {
  test.each<[string, Partial<CallInSight>, Partial<CallTerms>]>([
    ['converted', {}, {}],
    ['unanswered', { answered: false, length: 0 }, {}],
    ['converted', { length: 90 }, { converts: 'length', leastSeconds: 90 }],
    ['too_short', { length: 89 }, { converts: 'length', leastSeconds: 90 }],
    ['converted', { length: 1 }, { converts: 'connection', leastSeconds: 90 }],
    ['asked', {}, { converts: 'merchant' }],
    ['anonymous', { anonymous: true }, { converts: 'merchant' }],
    ['repeat_caller', { before: CALL.time - 1 }, {}],
    ['cap_day', { onDay: 3 }, { mostADay: 3 }],
    ['converted', { onDay: 2 }, { mostADay: 3 }],
    ['cap_at_once', { goingOn: 1 }, { mostAtOnce: 1 }],
    ['converted', {}, { opens: '14:00', closes: '18:00' }],
    ['closed', {}, { opens: '08:00', closes: '14:00' }],
    ['closed', {}, { days: [1, 3] }],
    // 24 November 2026 is a Tuesday; Monday's night reaches into it.
    ['converted', { time: at('2026-11-24T01:30:00') }, { opens: '20:00', closes: '02:00', days: [1] }],
    ['closed', { time: at('2026-11-24T21:00:00') }, { opens: '20:00', closes: '02:00', days: [1] }],
  ])('is %s', (outcome, call, terms) => {
    expect(judged(call, terms)).toBe(outcome);
  });

  test('always has an outcome with its reason in words', () => {
    const call = fc.record({
      ...{
        length: fc.nat(4000),
        answered: fc.boolean(),
        anonymous: fc.boolean(),
        onDay: fc.nat(5),
        goingOn: fc.nat(5),
      },
      time: fc.integer({ min: at('2026-03-28T00:00:00'), max: at('2026-10-27T00:00:00') }),
    });
    const terms = fc.record({
      converts: fc.constantFrom('connection', 'length', 'merchant'),
      ...{ leastSeconds: fc.nat(200), repeatHours: fc.nat(99), mostADay: fc.nat(4), mostAtOnce: fc.nat(4) },
      days: fc.uniqueArray(fc.integer({ min: 1, max: 7 })),
      ...{ opens: fc.constantFrom('', '08:30', '22:00'), closes: fc.constantFrom('', '17:00', '02:00') },
    });
    fc.assert(
      fc.property(call, terms as fc.Arbitrary<CallTerms>, (each, by) => {
        const { outcome, detail } = judgeCall(each, by, ZONE);
        expect(CALL_OUTCOMES[outcome]).toBeTruthy();
        expect(detail).not.toBe('');
        expect(callTermsSchema.validate(by).error).toBeUndefined();
      }),
    );
  });
});

describe('a report of a call', () => {
  test('keeps no number of a caller, only a hash and its end', () => {
    const digits = fc.stringMatching(/^\+\d{8,14}$/);
    fc.assert(
      fc.property(digits, (caller) => {
        const hash = (number: string): string => Buffer.from(number).toString('hex').padEnd(32, '0').slice(-32);
        const kept = withoutCaller({ call: 'C1', caller }, hash);
        expect(JSON.stringify(kept)).not.toContain(caller.slice(1));
        expect(kept.caller_end).toBe(caller.slice(-2));
        // What is kept is kept again without a change.
        expect(withoutCaller(kept, () => 'another')).toEqual(kept);
      }),
    );
    for (const hidden of [undefined, '', 'anonymous', 'unknown', '0'])
      expect(withoutCaller({ caller: hidden }, () => 'x')).toEqual({ caller: '', caller_end: '' });
  });

  test('is read with its numbers in E.164; what is malformed is named', () => {
    const said = {
      call: 'C1',
      number: '+1 555 01-20',
      started: '2026-11-24T14:00:00+01:00',
      answered: '1',
      length: '61',
    };
    const read = readCall(said);
    expect(read.ok && read.value).toMatchObject({
      number: '+15550120',
      started: CALL.time,
      answered: true,
      length: 61,
    });
    for (const [field, value] of [
      ['number', '0555-0120'],
      ['started', 'yesterday'],
      ['length', '-1'],
      ['answered', 'yes'],
      ['call', ''],
    ] as const) {
      const wrong = readCall({ ...said, [field]: value });
      expect(wrong.ok ? [] : wrong.problems.map((problem) => problem.field)).toEqual([field]);
    }
  });
});
