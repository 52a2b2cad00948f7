'use client';
import type { Option } from '@/ui/form/Picker';
import { PartnerChannel } from '../PartnerChannel';

export interface Named {
  id: number;
  label: string;
}
export interface Choices {
  partner?: Option;
  channel?: Option;
  offerId: string;
  sourceId: string;
  kind: string;
  campaign: string;
}
interface ForAllProps {
  form: 'lines' | 'matrix';
  choices: Choices;
  offers: Named[];
  sources: Named[];
  onChange(choices: Choices): void;
}

/** What holds for every line that says nothing else. */
export function ForAll({ form, choices, offers, sources, onChange }: ForAllProps) {
  const set = (part: Partial<Choices>): void => onChange({ ...choices, ...part });
  const select = (
    name: 'offerId' | 'sourceId' | 'kind',
    label: string,
    none: string,
    options: (readonly [string, string])[],
  ) => (
    <div className="field">
      <label htmlFor={`many-${name}`}>{label}</label>
      <select
        id={`many-${name}`}
        className="text"
        value={choices[name]}
        onChange={({ target }) => set({ [name]: target.value })}
      >
        <option value="">{none}</option>
        {options.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
  const named = (all: Named[]): [string, string][] => all.map(({ id, label }) => [String(id), label]);
  return (
    <div>
      <h2>{form === 'lines' ? 'For lines that do not say' : 'For all of them'}</h2>
      <div className="form narrow">
        {form === 'lines' && (
          <PartnerChannel
            partner={choices.partner}
            channel={choices.channel}
            none={['none chosen', 'none chosen']}
            onPick={set}
          />
        )}
        {select('offerId', 'Offer', 'none chosen', named(offers))}
        {select('sourceId', 'Traffic source', 'the channel’s own', named(sources))}
        {select('kind', 'Kind', 'referral, or deep link where there is a page', [
          ['referral', 'referral: the page is kept here'],
          ['deep', 'deep link'],
          ['direct', 'direct, no redirect'],
          ['manual', 'reference, no redirect'],
        ])}
        <div className="field">
          <label htmlFor="many-campaign">Label: campaign</label>
          <input
            id="many-campaign"
            className="text"
            value={choices.campaign}
            onChange={({ target }) => set({ campaign: target.value })}
          />
        </div>
      </div>
    </div>
  );
}
