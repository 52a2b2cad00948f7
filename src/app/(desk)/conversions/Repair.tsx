'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { FormDialog } from '@/ui/form/FormDialog';
import type { Option } from '@/ui/form/Picker';
import { PartnerChannel } from '../links/PartnerChannel';
import { dismiss, giveAway, giveClick } from './actions';
import { ticked } from './ticked';

interface OfferChoice {
  id: number;
  name: string;
}
interface Props {
  /** All of the cause in sight; those that are ticked in the list go before them. */
  ids: readonly number[];
  offers: readonly OfferChoice[];
}
type Way = 'partner' | 'click' | 'nobody';
const WAYS: Record<Way, string> = { partner: 'To a partner', click: 'To a click', nobody: 'They are nobody’s' };

export const Repair = (props: Props) => (
  <FormDialog label="Repair…" title="Whose are they?" variant="contained">
    {(close) => <RepairForm {...props} close={close} />}
  </FormDialog>
);

function RepairForm({ ids, offers, close }: Props & { close(): void }) {
  const router = useRouter();
  const [chosen] = useState(() => ticked());
  const meant = chosen.length > 0 ? chosen : [...ids];
  const [way, setWay] = useState<Way>('partner');
  const [whose, setWhose] = useState<{ partner?: Option; channel?: Option }>({});
  const [offerId, setOfferId] = useState(offers[0]?.id ?? 0);
  const [clickId, setClickId] = useState('');
  const [reason, setReason] = useState('');
  const [problems, setProblems] = useState<ActionState['problems']>();
  const [busy, setBusy] = useState(false);
  const save = async (): Promise<void> => {
    setBusy(true);
    const fields = { ids: meant, reason };
    const state =
      way === 'partner'
        ? await giveAway({ ...fields, offerId, partnerId: whose.partner?.id, channelId: whose.channel?.id })
        : way === 'click'
          ? await giveClick({ ...fields, clickId })
          : await dismiss(fields);
    setBusy(false);
    setProblems(state.problems);
    if (state.problems) return;
    close();
    router.refresh();
  };
  const of = (field: string): string | undefined => problems?.find((each) => each.field === field)?.reason;
  const bad = (field: string) => of(field) && <p className="bad">{of(field)}</p>;
  const rest = problems?.filter(
    ({ field }) => !['partnerId', 'channelId', 'offerId', 'clickId', 'reason'].includes(field),
  );
  return (
    <div className="stack" style={{ gap: 4 }}>
      <p>
        {chosen.length > 0 ? 'The ' : 'All '}
        <b>{meant.length}</b> {chosen.length > 0 ? 'you have ticked' : 'in sight'}. It can be taken back as long as
        nothing of it is decided.
      </p>
      <div className="shelves" role="group" aria-label="How">
        {(Object.keys(WAYS) as Way[]).map((each) => (
          <button key={each} type="button" aria-pressed={way === each} onClick={() => setWay(each)}>
            {WAYS[each]}
          </button>
        ))}
      </div>
      {way === 'partner' && (
        <>
          <PartnerChannel
            {...{ partner: whose.partner, channel: whose.channel, none: ['Choose a partner', 'Choose a channel'] }}
            problems={{ partner: of('partnerId'), channel: of('channelId') }}
            onPick={(part) => setWhose((before) => ({ ...before, ...part }))}
          />
          <div className="field">
            <label>
              Offer
              <select className="text" value={offerId} onChange={({ target }) => setOfferId(Number(target.value))}>
                {offers.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
            {bad('offerId')}
          </div>
        </>
      )}
      {way === 'click' && (
        <div className="field">
          <label>
            Click ID
            <input className="text mono" value={clickId} onChange={({ target }) => setClickId(target.value)} />
          </label>
          {bad('clickId')}
        </div>
      )}
      <div className="field">
        <label>
          Reason, kept in the history
          <input className="text" value={reason} onChange={({ target }) => setReason(target.value)} />
        </label>
        {bad('reason')}
      </div>
      {rest?.map((problem) => (
        <p key={problem.field + problem.reason} className="bad">
          {problem.reason}
        </p>
      ))}
      <div className="actions">
        <Button variant="contained" disabled={busy} onClick={() => void save()}>
          {way === 'nobody' ? `Take ${meant.length} off the shelf` : `Give ${meant.length} away`}
        </Button>
      </div>
    </div>
  );
}
