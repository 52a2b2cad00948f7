'use client';
import type { Change, Finding } from '@/core/links/findings';

/** What is wrong with the draft, each with its reason and a fix where there is one. */
export function Findings({ findings, onFix }: { findings: readonly Finding[]; onFix(change: Change): void }) {
  return (
    <ul className="findings" aria-label="Findings">
      {findings.map(({ code, field, severity, reason, fix }) => (
        <li key={`${code} ${field} ${reason}`} className={severity === 'error' ? 'note trouble' : 'note wait'}>
          <b>{severity === 'error' ? 'Error. ' : 'Look again. '}</b>
          {reason}
          {fix && (
            <>
              {' '}
              <button type="button" className="more" onClick={() => onFix(fix.change)}>
                {fix.label}
              </button>
            </>
          )}
        </li>
      ))}
    </ul>
  );
}
