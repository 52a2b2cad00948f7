'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { FormDialog } from '@/ui/form/FormDialog';
import type { Option } from '@/ui/form/Picker';
import { PartnerChannel } from '../../links/PartnerChannel';
import { addCoupon, saveCouponDates } from './actions';

interface OfferChoice {
  id: number;
  name: string;
}

export const AddCoupon = ({ offers, code = '' }: { offers: readonly OfferChoice[]; code?: string }) => (
  <FormDialog label="Add a coupon" title="A coupon" variant="contained">
    {(close) => <CouponForm offers={offers} code={code} close={close} />}
  </FormDialog>
);

/** What is wrong with each field, as the server says it. */
const reasons = (problems: ActionState['problems']): Record<string, string> =>
  Object.fromEntries((problems ?? []).map(({ field, reason }) => [field, reason]));

function CouponForm({ offers, code: first, close }: { offers: readonly OfferChoice[]; code: string; close(): void }) {
  const router = useRouter();
  const [code, setCode] = useState(first);
  const [whose, setWhose] = useState<{ partner?: Option; channel?: Option }>({});
  const [offerId, setOfferId] = useState(offers[0]?.id ?? 0);
  const [dates, setDates] = useState({ startsOn: '', endsOn: '' });
  const [problems, setProblems] = useState<Record<string, string>>({});
  const save = async (): Promise<void> => {
    const missing = {
      ...(!whose.partner && { partnerId: 'Choose a partner.' }),
      ...(!whose.channel && { channelId: 'Choose a channel.' }),
    };
    if (Object.keys(missing).length > 0) return setProblems(missing);
    const fields = { code, offerId, partnerId: whose.partner?.id, channelId: whose.channel?.id, ...dates };
    const state = await addCoupon(fields);
    setProblems(reasons(state.problems));
    if (state.problems) return;
    close();
    router.refresh();
  };
  const bad = (field: string) => problems[field] && <p className="bad">{problems[field]}</p>;
  return (
    <div className="stack" style={{ gap: 4 }}>
      <div className="field">
        <label htmlFor="coupon-code">Code, as customers type it</label>
        <input id="coupon-code" className="text mono" value={code} onChange={({ target }) => setCode(target.value)} />
        {bad('code')}
      </div>
      <PartnerChannel
        {...{ partner: whose.partner, channel: whose.channel, none: ['Choose a partner', 'Choose a channel'] }}
        problems={{ partner: problems.partnerId, channel: problems.channelId }}
        onPick={(part) => setWhose((before) => ({ ...before, ...part }))}
      />
      <div className="field">
        <label htmlFor="coupon-offer">Offer</label>
        <select
          id="coupon-offer"
          className="text"
          value={offerId}
          onChange={({ target }) => setOfferId(Number(target.value))}
        >
          {offers.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </div>
      <DateFields id="coupon" dates={dates} onChange={setDates} />
      {bad('startsOn')}
      {bad('endsOn')}
      {bad('')}
      <div className="actions">
        <Button variant="contained" onClick={() => void save()}>
          Put in force
        </Button>
      </div>
    </div>
  );
}

interface Dates {
  startsOn: string;
  endsOn: string;
}

const DateFields = ({ id, dates, onChange }: { id: string; dates: Dates; onChange(dates: Dates): void }) => (
  <div className="form narrow" style={{ gap: '0 12px' }}>
    {(['startsOn', 'endsOn'] as const).map((name) => (
      <div className="field" key={name}>
        <label htmlFor={`${id}-${name}`}>{name === 'startsOn' ? 'First day' : 'Last day'}</label>
        <input
          id={`${id}-${name}`}
          type="date"
          className="text"
          value={dates[name]}
          onChange={({ target }) => onChange({ ...dates, [name]: target.value })}
        />
      </div>
    ))}
  </div>
);

export const CouponDates = ({ id, code, ...standing }: { id: number; code: string } & Dates) => (
  <FormDialog label="Days" title={`Days of ${code}`} variant="text">
    {(close) => <DatesForm id={id} standing={standing} close={close} />}
  </FormDialog>
);

function DatesForm({ id, standing, close }: { id: number; standing: Dates; close(): void }) {
  const router = useRouter();
  const [dates, setDates] = useState(standing);
  const [problems, setProblems] = useState<ActionState['problems']>();
  const save = async (): Promise<void> => {
    const state = await saveCouponDates(id, dates);
    setProblems(state.problems);
    if (state.problems) return;
    close();
    router.refresh();
  };
  return (
    <div className="stack">
      <DateFields id={`coupon-${id}`} dates={dates} onChange={setDates} />
      {problems?.map(({ field, reason }) => (
        <p key={field} className="bad">
          {reason}
        </p>
      ))}
      <div className="actions">
        <Button variant="contained" onClick={() => void save()}>
          Save
        </Button>
      </div>
    </div>
  );
}
