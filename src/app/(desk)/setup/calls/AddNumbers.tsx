'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { Choice } from '@/ui/form/Choice';
import { FormDialog } from '@/ui/form/FormDialog';
import type { Option } from '@/ui/form/Picker';
import { PartnerChannel } from '../../links/PartnerChannel';
import { addCallNumbers } from '../actions';

type Use = 'visits' | 'channel';
const USES: readonly (readonly [Use, string])[] = [
  ['visits', 'one visit at a time, by the page tag'],
  ['channel', 'one channel, for good'],
];

interface Props {
  offers: readonly { id: number; name: string }[];
}

/** Numbers for the pool: one a line. */
export const AddNumbers = ({ offers }: Props) => (
  <FormDialog label="Add numbers" title="Add telephone numbers" variant="contained">
    {(close) => <NumbersForm offers={offers} close={close} />}
  </FormDialog>
);

function NumbersForm({ offers, close }: Props & { close(): void }) {
  const router = useRouter();
  const [numbers, setNumbers] = useState('');
  const [offerId, setOfferId] = useState(String(offers[0]?.id ?? ''));
  const [use, setUse] = useState<Use>('visits');
  const [whose, setWhose] = useState<{ partner?: Option; channel?: Option }>({});
  const [problems, setProblems] = useState<ActionState['problems']>();
  const save = async (): Promise<void> => {
    const state = await addCallNumbers({
      numbers: numbers
        .split(/[\n,;]+/)
        .map((each) => each.trim())
        .filter((each) => each !== ''),
      offerId: Number(offerId),
      use,
      ...(use === 'channel' && whose.channel && { channelId: whose.channel.id }),
    });
    setProblems(state.problems);
    if (state.problems) return;
    close();
    router.refresh();
  };
  return (
    <div className="stack" style={{ gap: 10 }}>
      <div className="field">
        <label>
          Numbers, one a line, with their country code
          <textarea
            className="text mono"
            rows={4}
            value={numbers}
            placeholder="+1 555 0100"
            onChange={({ target }) => setNumbers(target.value)}
          />
        </label>
      </div>
      <Choice
        label="Calls are about"
        value={offerId}
        options={offers.map(({ id, name }) => [String(id), name])}
        onChange={setOfferId}
      />
      <Choice<Use> label="Shown to" value={use} options={USES} onChange={setUse} />
      {use === 'channel' && (
        <PartnerChannel
          {...{ partner: whose.partner, channel: whose.channel, none: ['Choose a partner', 'Choose a channel'] }}
          problems={{ channel: problems?.find(({ field }) => field === 'channelId')?.reason }}
          onPick={(part) => setWhose((before) => ({ ...before, ...part }))}
        />
      )}
      {problems
        ?.filter(({ field }) => field !== 'channelId')
        .map(({ field, reason }) => (
          <p key={field + reason} className="bad">
            {reason}
          </p>
        ))}
      <div className="actions">
        <Button variant="contained" onClick={() => void save()}>
          Add them
        </Button>
      </div>
    </div>
  );
}
