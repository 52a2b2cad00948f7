'use client';
import { useState } from 'react';
import { LINK_KINDS, type LinkKind, redirects } from '@/core/links/parts';
import { CARRIED, type Carried } from '@/core/placeholders/names';
import { MoreFields } from './MoreFields';
import { PartnerChannel } from './PartnerChannel';
import { ValueField } from './ValueField';
import type { Bench, Draft, DraftProblems } from './composing';

const ALWAYS: Carried[] = ['sub1', 'sub2', 'pcid'];
const KIND_WORDS: Record<LinkKind, string> = {
  referral: 'Referral',
  deep: 'Deep link',
  direct: 'Direct',
  manual: 'Reference',
};
const KIND_ABOUT: Record<LinkKind, string> = {
  referral: 'Short: the page is kept here.',
  deep: 'Carries its page; the partner may put another one.',
  direct: 'The page itself, without a redirect. The shop needs the page tag.',
  manual: 'Only ?ref= with the code, for any page that has the tag.',
};

interface Props {
  draft: Draft;
  bench: Bench;
  problems: DraftProblems;
  onChange(part: Partial<Draft>): void;
  onPage(text: string): void;
  onSource(id: number | undefined): void;
}

/** Whom the link is for, where it leads and what it carries. */
export function ComposeFields({ draft, bench, problems, onChange, onPage, onSource }: Props) {
  const [more, setMore] = useState(false);
  const slots = CARRIED.filter((slot) => more || ALWAYS.includes(slot) || draft.values[slot] !== undefined);
  const bad = (name: string) => problems[name] && <p className="bad">{problems[name]}</p>;
  const { offer, source } = draft;
  return (
    <div>
      <h2>Compose a link</h2>
      <PartnerChannel
        partner={draft.partner}
        channel={draft.channel}
        none={['Choose a partner', 'Choose a channel']}
        problems={problems}
        onPick={(picked) => {
          onChange(picked);
          if (picked.channel?.sourceId !== undefined) onSource(picked.channel.sourceId);
        }}
      />
      <div className="field">
        <label htmlFor="compose-offer">Offer</label>
        <select
          id="compose-offer"
          className="text"
          aria-invalid={!!problems.offer}
          value={offer?.id ?? ''}
          onChange={({ target }) =>
            onChange({ offer: bench.offers.find(({ id }) => id === Number(target.value)), landing: '' })
          }
        >
          <option value="">Choose an offer</option>
          {bench.offers.map(({ id, label, live }) => (
            <option key={id} value={id}>
              {label}
              {!live && ' (paused)'}
            </option>
          ))}
        </select>
        {bad('offer')}
      </div>
      <div className="field" role="radiogroup" aria-label="Kind of link">
        <span className="label">Kind</span>
        <div className="segments">
          {LINK_KINDS.map((kind) => (
            <button
              key={kind}
              type="button"
              role="radio"
              aria-checked={draft.kind === kind}
              onClick={() => onChange({ kind })}
            >
              {KIND_WORDS[kind]}
            </button>
          ))}
        </div>
        <p className="help">
          {KIND_ABOUT[draft.kind]}{' '}
          <b>{redirects(draft.kind) ? 'Can lead elsewhere later.' : 'Cannot be led elsewhere once it is out.'}</b>
        </p>
        {bad('kind')}
      </div>
      {offer && offer.landingPages.length > 1 && draft.to === '' && draft.kind !== 'deep' && (
        <div className="field">
          <label htmlFor="compose-landing">Landing page</label>
          <select
            id="compose-landing"
            className="text"
            value={draft.landing}
            onChange={({ target }) => onChange({ landing: target.value })}
          >
            {offer.landingPages.map(({ name }, i) => (
              <option key={name} value={i === 0 ? '' : name}>
                {name}
              </option>
            ))}
          </select>
        </div>
      )}
      <div className="field">
        <label htmlFor="compose-to">{draft.kind === 'deep' ? 'Page' : 'Page, empty for the landing page'}</label>
        <input
          id="compose-to"
          className="text mono"
          inputMode="url"
          placeholder="https://…"
          value={draft.to}
          aria-invalid={!!problems.to}
          onChange={({ target }) => onPage(target.value)}
        />
        {bad('to')}
      </div>
      <div className="field">
        <label htmlFor="compose-source">Traffic source</label>
        <select
          id="compose-source"
          className="text"
          value={source?.id ?? ''}
          onChange={({ target }) => onSource(target.value === '' ? undefined : Number(target.value))}
        >
          <option value="">None</option>
          {bench.sources.map(({ id, preset }) => (
            <option key={id} value={id}>
              {preset.name}
            </option>
          ))}
        </select>
      </div>
      <datalist id="source-tokens">
        {source?.preset.tokens.map(({ token, meaning }) => (
          <option key={token} value={token}>
            {meaning}
          </option>
        ))}
      </datalist>
      {slots.map((slot) => (
        <ValueField
          key={slot}
          slot={slot}
          name={source?.preset.values[slot]?.parameter || undefined}
          value={draft.values[slot]}
          source={source}
          problem={problems[`values.${slot}`]}
          onChange={(value) => onChange({ values: { ...draft.values, [slot]: value } })}
        />
      ))}
      {!more && (
        <p>
          <button type="button" className="more" onClick={() => setMore(true)}>
            All five sub-IDs, one-off values, cost
          </button>
        </p>
      )}
      <MoreFields draft={draft} origins={bench.origins} problems={problems} onChange={onChange} />
    </div>
  );
}
