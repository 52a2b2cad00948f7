import { readSuspicion } from '@/services/reviews';
import type { Desk } from '../../../desk';
import { SuspicionForm } from './SuspicionForm';

/** What makes a conversion look odd, and from when a person is asked. */
export const SuspicionShelf = ({ desk }: { desk: Desk }) => (
  <div className="pad stack" style={{ maxWidth: 820 }}>
    <p>
      Each signal that is seen adds its weight. From the sum below on, a conversion waits in review: nothing is refused
      by itself, and nothing in review is approved by itself or with the many. A weight of 0 turns a signal off.
    </p>
    <SuspicionForm values={readSuspicion(desk.stores, desk.actor)} />
  </div>
);
