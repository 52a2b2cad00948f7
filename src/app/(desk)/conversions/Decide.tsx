'use client';
import { decideChosen } from './actions';
import { DecideTicked } from './DecideTicked';

/** Decides on the conversions that are ticked in the list, all or none. */
export const Decide = () => (
  <DecideTicked
    title="Decide on what is ticked"
    ways={{
      approve: {
        word: 'Approve',
        about: 'Those that are due: their hold is over. It cannot be undone; it can be reversed. All or none.',
      },
      reject: {
        word: 'Reject',
        about: 'They earn nothing, for good. The partner sees the reason. All or none.',
        reason: true,
      },
      reverse: {
        word: 'Reverse',
        about:
          'What they earned is taken back, also when it is paid already: then the next payout is less by it. All or none.',
        reason: true,
      },
    }}
    decide={(ids, way, reason) => decideChosen({ ids, way, reason })}
  />
);
