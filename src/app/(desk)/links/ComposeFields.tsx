'use client';
import { useState } from 'react';
import { ONE_OFF_SLOTS, SUB_SLOTS, type ValueSlot } from '@/core/placeholders/names';
import { Picker } from '@/ui/form/Picker';
import type { ComposedOffer, Draft, DraftProblems } from './composing';

const SLOT_NAMES: Record<ValueSlot, string> = {
  sub1: 'Sub-ID 1',
  sub2: 'Sub-ID 2',
  sub3: 'Sub-ID 3',
  sub4: 'Sub-ID 4',
  sub5: 'Sub-ID 5',
  pcid: 'Partner click ID',
  one1: 'One-off 1',
  one2: 'One-off 2',
  one3: 'One-off 3',
};
const ALWAYS: ValueSlot[] = ['sub1', 'sub2', 'pcid'];

interface Props {
  draft: Draft;
  offers: ComposedOffer[];
  problems: DraftProblems;
  onChange(part: Partial<Draft>): void;
}

export function ComposeFields({ draft, offers, problems, onChange }: Props) {
  const [more, setMore] = useState(false);
  const slots = [...SUB_SLOTS, ...ONE_OFF_SLOTS].filter(
    (slot) => more || ALWAYS.includes(slot) || draft.slots[slot]?.text,
  );
  const channels = draft.partner ? `/options/channels?partner=${draft.partner.id}` : '/options/channels';
  const bad = (name: keyof DraftProblems) => problems[name] && <p className="bad">{problems[name]}</p>;
  return (
    <div>
      <h2>Compose a link</h2>
      <div className="field">
        <span className="label">Partner</span>
        <Picker
          wide
          what="Partner"
          none="Choose a partner"
          value={draft.partner}
          source="/options/partners?active"
          bad={!!problems.partner}
          onPick={(partner) => onChange({ partner, channel: undefined })}
        />
        {bad('partner')}
      </div>
      <div className="field">
        <span className="label">Channel</span>
        <Picker
          wide
          what="Channel"
          none="Choose a channel"
          value={draft.channel}
          source={channels}
          bad={!!problems.channel}
          onPick={(channel) => onChange({ channel })}
        />
        {bad('channel')}
      </div>
      <div className="field">
        <label htmlFor="compose-offer">Offer</label>
        <select
          id="compose-offer"
          className="text"
          aria-invalid={!!problems.offer}
          value={draft.offer?.id ?? ''}
          onChange={(event) => onChange({ offer: offers.find(({ id }) => id === Number(event.target.value)) })}
        >
          <option value="">Choose an offer</option>
          {offers.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </select>
        {bad('offer')}
      </div>
      <div className="field">
        <label htmlFor="compose-to">Deep link to, empty for the landing page</label>
        <input
          id="compose-to"
          className="text mono"
          inputMode="url"
          placeholder="https://…"
          value={draft.to}
          aria-invalid={!!problems.to}
          onChange={(event) => onChange({ to: event.target.value })}
        />
        {bad('to')}
      </div>
      {slots.map((slot) => {
        const value = draft.slots[slot] ?? { kind: 'fixed' as const, text: '' };
        const set = (part: Partial<typeof value>): void =>
          onChange({ slots: { ...draft.slots, [slot]: { ...value, ...part } } });
        return (
          <div className="field" key={slot}>
            <label htmlFor={`compose-${slot}`}>
              {SLOT_NAMES[slot]}
              {slot === 'pcid' && ', never grouped'}
            </label>
            <div className="pair">
              <select
                className="text"
                aria-label={`${SLOT_NAMES[slot]} is`}
                value={value.kind}
                onChange={(event) => set({ kind: event.target.value === 'source' ? 'source' : 'fixed' })}
              >
                <option value="fixed">fixed</option>
                <option value="source">by source</option>
              </select>
              <input
                id={`compose-${slot}`}
                className="text mono"
                value={value.text}
                aria-invalid={!!problems[slot]}
                placeholder={value.kind === 'source' ? '{{keyword}}' : ''}
                onChange={(event) => set({ text: event.target.value })}
              />
            </div>
            {bad(slot)}
          </div>
        );
      })}
      {!more && (
        <button type="button" className="more" onClick={() => setMore(true)}>
          All five sub-IDs and one-off values
        </button>
      )}
    </div>
  );
}
