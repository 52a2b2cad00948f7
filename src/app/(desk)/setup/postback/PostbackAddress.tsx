'use client';
import { useState } from 'react';
import { REPORTABLE, type Reportable, type Sending, postbackExample } from '@/core/conversions/address';
import { Choice } from '@/ui/form/Choice';
import { CopyButton } from '@/ui/feedback/CopyButton';
import { TestPostback } from './TestPostback';

interface OfferChoice {
  readonly id: number;
  readonly name: string;
  readonly events: readonly string[];
}
interface Props {
  origin: string;
  programId: number;
  offers: readonly OfferChoice[];
}

const USUAL: readonly Reportable[] = ['order', 'amount', 'tax', 'currency'];
const SENDINGS: Record<Sending, string> = {
  get: 'in the address (GET)',
  form: 'as a form (POST)',
  json: 'as JSON (POST)',
};

/** Writes the address for the merchant's developer, from what the merchant can tell; and sends a test of it. */
export function PostbackAddress({ origin, programId, offers }: Props) {
  const [offerId, setOfferId] = useState(0);
  const events = [
    ...new Set(offers.filter(({ id }) => offerId === 0 || id === offerId).flatMap((offer) => offer.events)),
  ];
  const [wanted, setEvent] = useState('');
  const event = events.find((each) => each === wanted) ?? events[0] ?? 'order';
  const [chosen, setChosen] = useState<readonly Reportable[]>(USUAL);
  const [custom, setCustom] = useState('');
  const [sending, setSending] = useState<Sending>('get');
  const [by, setBy] = useState<'key' | 'signature'>('key');
  const own = custom.split(/[\s,]+/).filter((name) => /^x_[a-z0-9_]{1,40}$/.test(name));
  const wrong = custom.split(/[\s,]+/).filter((name) => name !== '' && !own.includes(name));
  const text = postbackExample({ origin, programId, event, chosen, custom: own, sending, by });
  return (
    <div className="stack">
      <h2 style={{ margin: 0 }}>For the merchant’s developer</h2>
      <p className="small">
        The shop’s server reports each conversion here. The answer is 202 with a receipt once it is on disk; to send the
        same again changes nothing. A refund is the same event and order with status=reversed, and its amount or items
        when it is partial.
      </p>
      <div className="form narrow" style={{ gap: '0 12px' }}>
        <Choice
          label="For"
          value={String(offerId)}
          options={[['0', 'all offers'], ...offers.map(({ id, name }) => [String(id), name] as const)]}
          onChange={(to) => setOfferId(Number(to))}
        />
        <Choice label="Event" value={event} options={events.map((each) => [each, each])} onChange={setEvent} />
        <Choice
          label="Sent"
          value={sending}
          options={Object.entries(SENDINGS) as [Sending, string][]}
          onChange={(to) => setSending(to)}
        />
        <Choice
          label="Proved by"
          value={by}
          options={[
            ['key', 'the key'],
            ['signature', 'a signature'],
          ]}
          onChange={(to) => setBy(to)}
        />
      </div>
      <fieldset className="choices">
        <legend>What the merchant tells</legend>
        {REPORTABLE.map(([name, , help]) => (
          <label key={name} title={help}>
            <input
              type="checkbox"
              checked={chosen.includes(name)}
              onChange={({ target }) =>
                setChosen(target.checked ? [...chosen, name] : chosen.filter((each) => each !== name))
              }
            />{' '}
            <code>{name}</code>
          </label>
        ))}
      </fieldset>
      <div className="field">
        <label>
          Fields of your own
          <input
            className="text mono"
            value={custom}
            placeholder="x_delivery x_supplier"
            onChange={({ target }) => setCustom(target.value)}
          />
        </label>
        {wrong.length > 0 && (
          <p className="bad">{wrong[0]}: a field of your own begins with x_, in lower-case letters, digits and “_”.</p>
        )}
      </div>
      <pre className="address" aria-label="The postback">
        {text}
      </pre>
      <div className="actions" style={{ margin: 0 }}>
        <CopyButton text={text} label="Copy it" />
        <TestPostback
          key={event}
          event={event}
          offerId={offerId || offers.find((offer) => offer.events.includes(event))?.id}
        />
      </div>
    </div>
  );
}
