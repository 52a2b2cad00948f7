'use client';
import { UTM_FIELDS } from '@/core/links/compose';
import { redirects } from '@/core/links/parts';
import type { Draft, DraftProblems } from './composing';

interface Props {
  draft: Draft;
  /** The program's tracking hosts. */
  origins: readonly string[];
  problems: DraftProblems;
  onChange(part: Partial<Draft>): void;
}

const LABELS = [
  ['campaign', 'Campaign'],
  ['ad', 'Ad'],
  ['product', 'Product group'],
] as const;

/** What most links do without: a readable alias, labels to find it by, and UTM parameters. */
export function MoreFields({ draft, origins, problems, onChange }: Props) {
  const { labels, utm } = draft;
  const bad = (name: string) => problems[name] && <p className="bad">{problems[name]}</p>;
  return (
    <>
      <details className="fold" open={draft.alias !== '' || problems.alias !== undefined}>
        <summary>Readable alias</summary>
        <div className="field">
          <label htmlFor="compose-alias">Stands for the code, for good</label>
          <input
            id="compose-alias"
            className="text mono"
            value={draft.alias}
            placeholder="autumn-glaze"
            aria-invalid={!!problems.alias}
            onChange={({ target }) => onChange({ alias: target.value })}
          />
          {bad('alias')}
        </div>
      </details>
      <details className="fold">
        <summary>Labels, to find it by</summary>
        {LABELS.map(([name, words]) => (
          <div className="field" key={name}>
            <label htmlFor={`compose-${name}`}>{words}</label>
            <input
              id={`compose-${name}`}
              className="text"
              value={labels[name] ?? ''}
              onChange={({ target }) => onChange({ labels: { ...labels, [name]: target.value } })}
            />
          </div>
        ))}
        <div className="field">
          <label htmlFor="compose-tags">Tags, separated by commas</label>
          <input
            id="compose-tags"
            className="text"
            defaultValue={labels.tags?.join(', ') ?? ''}
            onChange={({ target }) => {
              const tags = target.value.split(',').map((tag) => tag.trim());
              onChange({ labels: { ...labels, tags: [...new Set(tags)].filter((tag) => tag !== '') } });
            }}
          />
        </div>
      </details>
      <details className="fold">
        <summary>UTM parameters</summary>
        {redirects(draft.kind) && draft.kind === 'deep' && (
          <div className="field">
            <label htmlFor="compose-utm-form">Where they stand</label>
            <select
              id="compose-utm-form"
              className="text"
              value={draft.utmForm}
              onChange={({ target }) => onChange({ utmForm: target.value === 'long' ? 'long' : 'short' })}
            >
              <option value="short">added at the redirect: the link stays short</option>
              <option value="long">in the page, for all to see</option>
            </select>
          </div>
        )}
        {UTM_FIELDS.map((field) => (
          <div className="field" key={field}>
            <label htmlFor={`compose-utm-${field}`}>
              <code>utm_{field}</code>
            </label>
            <input
              id={`compose-utm-${field}`}
              className="text mono"
              placeholder={field === 'campaign' ? '{channel_code}' : ''}
              value={utm[field] ?? ''}
              onChange={({ target }) => onChange({ utm: { ...utm, [field]: target.value } })}
            />
            {bad(`utm.${field}`)}
          </div>
        ))}
      </details>
      {origins.length > 1 && (
        <details className="fold">
          <summary>Tracking host</summary>
          <div className="field">
            <label htmlFor="compose-host">The link begins with</label>
            <select
              id="compose-host"
              className="text mono"
              value={draft.host}
              onChange={({ target }) => onChange({ host: target.value })}
            >
              {origins.map((origin, i) => (
                <option key={origin} value={i === 0 ? '' : origin}>
                  {origin}
                </option>
              ))}
            </select>
          </div>
        </details>
      )}
    </>
  );
}
