'use client';
import { review } from './actions';
import { DecideTicked } from './DecideTicked';

/** What is ticked in review: nothing wrong, or not to be paid. */
export const DecideReview = () => (
  <DecideTicked
    title="What do they mean?"
    ways={{
      clear: { word: 'Nothing wrong', about: 'They go on as if nothing had been seen. It can be undone.' },
      reject: {
        word: 'Reject',
        about: 'They earn nothing, for good; what was approved already is taken back. The partner sees the reason.',
        reason: true,
      },
    }}
    decide={(ids, way, reason) => review({ ids, way, reason })}
  />
);
