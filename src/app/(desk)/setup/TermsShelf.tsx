import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { listTerms } from '@/services/applications';
import type { Desk } from '../../desk';
import { TermsForm } from './TermsForm';

/** What partners accept when they apply: the version in force to be revised, and those before it. */
export function TermsShelf({ desk }: { desk: Desk }) {
  const all = listTerms(desk.stores, desk.actor);
  return (
    <div className="pad columns wide-left">
      <div className="stack">
        <p>
          Applicants accept the newest version on <a href="/apply">the public form</a>. A version once published stands;
          each partner’s page says which one was accepted, and when.
        </p>
        <TermsForm text={all[0]?.text ?? ''} />
      </div>
      <div className="stack">
        <h2 style={{ margin: 0 }}>Versions</h2>
        {all.length === 0 && <p className="mute">None yet. Without terms the form asks for none.</p>}
        {all.map(({ version, publishedAt, publishedBy, accepted, text }) => (
          <details key={version} className="fold" style={{ margin: 0 }}>
            <summary>
              Version {version}, {showTime(publishedAt, desk.program.timeZone)}
            </summary>
            <p className="mute small">
              Published by {publishedBy}, accepted by {showCount(accepted)}
            </p>
            <div className="mail small">{text}</div>
          </details>
        ))}
      </div>
    </div>
  );
}
