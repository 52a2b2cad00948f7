'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { Currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { showCount, showRatio } from '@/core/reports/measures';
import type { RuleEffect } from '@/services/rule_effect';
import { type ActionState, ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { FileText } from '@/ui/form/FileText';
import { FormDialog } from '@/ui/form/FormDialog';
import { dropList, saveList, setFloodMost, tryRule } from './actions';

interface ListView {
  id: number;
  name: string;
  effect: 'set_aside' | 'proxy';
  isOn: number;
  ranges: number;
}

/** Asks what a rule would have done, before it is switched on. */
function useTry() {
  const [state, setState] = useState<{ busy?: true; effect?: RuleEffect; refused?: string }>({});
  const ask = async (input: unknown): Promise<void> => {
    setState({ busy: true });
    const result = await tryRule(input);
    setState('answer' in result ? { effect: result.answer } : { refused: result.refused });
  };
  return { ...state, ask, forget: () => setState({}) };
}

function Effect({ effect, currency, verb }: { effect: RuleEffect; currency: Currency; verb: string }) {
  const { clicks, of, days, certainty, conversions, commission, partners } = effect;
  return (
    <div className="note calm" role="status">
      <p>
        In the last {days} days this would have {verb}{' '}
        <b>
          {certainty === 'at_most' && clicks > 0 ? 'at most ' : ''}
          {showCount(clicks)} of {showCount(of)} counted clicks
        </b>{' '}
        ({showRatio(clicks, of)}), with {showCount(conversions)} converting and{' '}
        {showAmount(money(commission, currency))} of commission behind them.
      </p>
      {certainty === 'at_most' && (
        <p className="small mute">Addresses are kept cut, so neighbours in the same network are counted along.</p>
      )}
      {partners.length > 0 && (
        <p className="small">
          Most of them of {partners.map(({ partner, clicks: count }) => `${partner} (${showCount(count)})`).join(', ')}.
        </p>
      )}
    </div>
  );
}

/** How many clicks a minute of one address on one link are taken for people. */
export function FloodRule({ most, currency }: { most: number; currency: Currency }) {
  return (
    <div className="rule">
      <span>
        <b>Floods</b>{' '}
        {most === 0 ? (
          <span className="mute">are not looked for</span>
        ) : (
          <>
            more than <b>{showCount(most)}</b> clicks a minute from one address on one link
          </>
        )}
      </span>
      <FormDialog label={most === 0 ? 'Set a limit' : 'Change'} title="Floods" variant="text">
        {(close) => <FloodForm most={most} currency={currency} close={close} />}
      </FormDialog>
    </div>
  );
}

function FloodForm({ most, currency, close }: { most: number; currency: Currency; close(): void }) {
  const router = useRouter();
  const [text, setText] = useState(String(most || 10));
  const [problem, setProblem] = useState<string>();
  const trying = useTry();
  const asked = /^[1-9]\d{0,5}$/.test(text.trim()) ? Number(text) : undefined;
  const save = async (value: number): Promise<void> => {
    const { problems } = await setFloodMost(value);
    setProblem(problems?.[0]?.reason);
    if (problems) return;
    close();
    router.refresh();
  };
  return (
    <div className="stack">
      <div className="field">
        <label htmlFor="flood-most">Clicks a minute from one address on one link, at most</label>
        <input
          id="flood-most"
          className="text"
          inputMode="numeric"
          style={{ width: 120 }}
          value={text}
          aria-invalid={asked === undefined}
          onChange={({ target }) => {
            setText(target.value);
            trying.forget();
          }}
        />
        {asked === undefined && <p className="bad">A whole number from 1.</p>}
        <p className="help">What goes beyond it within the minute is set aside. Visitors are sent on all the same.</p>
      </div>
      {trying.effect && <Effect effect={trying.effect} currency={currency} verb="set aside" />}
      {(trying.refused ?? problem) && <p className="bad">{trying.refused ?? problem}</p>}
      <div className="actions">
        <Button
          variant="outlined"
          disabled={asked === undefined || trying.busy}
          onClick={() => void trying.ask({ floodMost: asked })}
        >
          {trying.busy ? 'Counting' : 'Try it on the last 30 days'}
        </Button>
        <Button variant="contained" disabled={asked === undefined} onClick={() => void save(asked ?? 0)}>
          Put in force
        </Button>
        {most > 0 && <Button onClick={() => void save(0)}>No limit</Button>}
      </div>
    </div>
  );
}

export const AddressListDialog = ({ currency, list }: { currency: Currency; list?: ListView }) => (
  <FormDialog label={list ? 'Change' : 'Add a list'} title={list ? list.name : 'A list of addresses'} variant="text">
    {(close) => <ListForm currency={currency} list={list} close={close} />}
  </FormDialog>
);

function ListForm({ currency, list, close }: { currency: Currency; list?: ListView; close(): void }) {
  const router = useRouter();
  const [name, setName] = useState(list?.name ?? '');
  const [effect, setEffect] = useState(list?.effect ?? 'set_aside');
  const [text, setText] = useState('');
  const [refused, setRefused] = useState<ActionState['problems']>();
  const trying = useTry();
  const reasonFor = (field: string): string | undefined => refused?.find((each) => each.field === field)?.reason;
  const save = async (on: boolean): Promise<void> => {
    const { problems } = await saveList(list?.id, { name, effect, on, ...(text.trim() !== '' && { text }) });
    setRefused(problems);
    if (problems) return;
    close();
    router.refresh();
  };
  return (
    <div className="stack">
      <div className="field">
        <label htmlFor="list-name">Name</label>
        <input id="list-name" className="text" value={name} onChange={({ target }) => setName(target.value)} />
        {reasonFor('name') && <p className="bad">{reasonFor('name')}</p>}
      </div>
      <div className="field">
        <label htmlFor="list-effect">Clicks from these addresses are</label>
        <select
          id="list-effect"
          className="text"
          value={effect}
          onChange={({ target }) => setEffect(target.value === 'proxy' ? 'proxy' : 'set_aside')}
        >
          <option value="set_aside">set aside: neither counted nor paid</option>
          <option value="proxy">marked as proxy, and counted</option>
        </select>
      </div>
      <FileText
        id="list-text"
        label={
          list
            ? `New addresses in place of the ${showCount(list.ranges)} ranges; empty keeps them`
            : 'Addresses and ranges, one a line'
        }
        value={text}
        placeholder={'192.0.2.0/24\n2001:db8:7::/48'}
        onChange={(next) => {
          setText(next);
          trying.forget();
        }}
      />
      {reasonFor('text') && <p className="bad">{reasonFor('text')}</p>}
      {trying.effect && (
        <Effect effect={trying.effect} currency={currency} verb={effect === 'proxy' ? 'marked' : 'set aside'} />
      )}
      {(trying.refused ?? reasonFor('')) && <p className="bad">{trying.refused ?? reasonFor('')}</p>}
      <div className="actions">
        <Button
          variant="outlined"
          disabled={trying.busy || (text.trim() === '' && !list)}
          onClick={() => void trying.ask(text.trim() === '' && list ? { listId: list.id } : { text })}
        >
          {trying.busy ? 'Counting' : 'Try it on the last 30 days'}
        </Button>
        <Button variant="contained" onClick={() => void save(true)}>
          Put in force
        </Button>
        <Button onClick={() => void save(false)}>
          {list?.isOn === 1 ? 'Take out of force' : 'Keep without force'}
        </Button>
      </div>
    </div>
  );
}

export const ListActions = ({ list, currency }: { list: ListView; currency: Currency }) => (
  <span className="pair">
    <AddressListDialog list={list} currency={currency} />
    <ConfirmButton
      label="Remove"
      title={`Remove ${list.name}?`}
      consequences="Clicks from its addresses count again from now on. Those it has set aside stay so."
      action={dropList}
      values={{ id: list.id }}
      variant="text"
      color="error"
    />
  </span>
);
