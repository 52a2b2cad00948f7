import { readCall, withoutCaller } from '@/core/calls/report';
import type { Checked } from '@/core/schema/problems';
import { type Kept, type RawPostback, postbackFields } from './postbacks';

/** What is wrong with a report of a call; else as it may be kept, without the caller's number. */
export function checkCall(raw: RawPostback, hash: (caller: string) => string): Checked<Kept> {
  const fields = postbackFields(raw);
  if (!fields.ok) return fields;
  const { key: _key, sig: _sig, ts: _ts, program: _program, ...said } = fields.value;
  const kept = withoutCaller(said, hash);
  const read = readCall(kept);
  if (!read.ok) return read;
  return { ok: true, value: { query: '', body: JSON.stringify(kept), contentType: 'application/json', warnings: [] } };
}
