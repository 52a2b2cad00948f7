const REACHED: Record<string, number> = {
  needs_rate: 1,
  pending: 2,
  due: 2,
  approved: 3,
  in_payout: 3,
  paid: 4,
  rejected: 2,
  reversed: 3,
};
const WORDS: Record<string, string> = {
  needs_rate: 'needs a rate',
  pending: 'held',
  due: 'due',
  approved: 'approved',
  in_payout: 'in payout',
  paid: 'paid',
  rejected: 'rejected',
  reversed: 'reversed',
};
const CELLS = ['recorded', 'held', 'approved', 'paid'];

/** How far a commission got: recorded, held, approved, paid. The word stands beside it. */
export function Lifecycle({ state }: { state: string }) {
  const off = state === 'rejected' || state === 'reversed';
  const reached = REACHED[state] ?? 1;
  const tone = state === 'due' || state === 'needs_rate' ? 'wait' : off ? 'trouble' : '';
  return (
    <span className={`tag ${tone}`}>
      <span className={off ? 'cells off' : 'cells'} aria-hidden="true">
        {CELLS.map((cell, i) => (
          <i key={cell} className={i < reached ? 'full' : ''} />
        ))}
      </span>
      {WORDS[state] ?? state}
    </span>
  );
}
