import { showTime } from '@/core/time/zones';
import type { PlanVersion } from '@/store/books/routing';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import type { Desk } from '../../../../../desk';
import { restoreRouting } from './actions';

const SHOWN = 30;

/** What was in force when, who changed it and why; an earlier version comes back as a new one. */
export const Versions = ({ desk, versions, offerId }: { desk: Desk; versions: PlanVersion[]; offerId: number }) => (
  <details className="fold" style={{ marginTop: 18 }}>
    <summary>
      {versions.length} {versions.length === 1 ? 'version' : 'versions'}
    </summary>
    <ol className="versions">
      {versions.slice(0, SHOWN).map(({ version, actor, reason, time, plan }, i) => (
        <li key={version}>
          <span className="grow">
            <b>{version}</b> {actor}, {showTime(time, desk.program.timeZone)}
            {reason && <span className="mute">: {reason}</span>}
            <span className="mute small">
              {' '}
              ({plan.rules.length} {plan.rules.length === 1 ? 'rule' : 'rules'}, {plan.caps.length}{' '}
              {plan.caps.length === 1 ? 'cap' : 'caps'})
            </span>
          </span>
          {i === 0 ? (
            <span className="mute small">in force</span>
          ) : (
            desk.may('manage_setup') && (
              <ConfirmButton
                label="Back to it"
                variant="text"
                title={`Version ${version} in force again?`}
                consequences="It becomes the newest version. Visitors are dealt out by it from the next click on."
                action={restoreRouting}
                values={{ offer: offerId, version }}
              />
            )
          )}
        </li>
      ))}
    </ol>
  </details>
);
