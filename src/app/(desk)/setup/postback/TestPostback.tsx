'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { FormDialog } from '@/ui/form/FormDialog';
import type { TestAnswer } from '@/services/receipts';
import { lookUpReceipt, sampleClick, testPostback } from '../actions';

/** The worker comes to a postback within a blink; longer than this it is not running. */
const LOOK_EVERY_MS = 300;
const LOOK_TIMES = 12;

export const TestPostback = (props: { event: string; offerId?: number }) => (
  <FormDialog label="Send a test" title="A test postback" variant="contained">
    {() => <TestForm {...props} />}
  </FormDialog>
);

function TestForm({ event, offerId }: { event: string; offerId?: number }) {
  const router = useRouter();
  const [fields, setFields] = useState({ event, click_id: '', order: 'TEST-1', amount: '100.00', code: '' });
  const [answer, setAnswer] = useState<TestAnswer>();
  const [became, setBecame] = useState<string>();
  const [refused, setRefused] = useState<string>();
  const [busy, setBusy] = useState(false);
  const newest = async (): Promise<void> => {
    const found = await sampleClick(offerId);
    if ('refused' in found) setRefused(found.refused);
    else setFields((before) => ({ ...before, click_id: found.answer }));
  };
  const send = async (): Promise<void> => {
    setBusy(true);
    setBecame(undefined);
    const sent = await testPostback(fields);
    setRefused('refused' in sent ? sent.refused : undefined);
    setAnswer('answer' in sent ? sent.answer : undefined);
    const receipt = 'answer' in sent ? sent.answer.receipt : undefined;
    for (let i = 0; receipt && i < LOOK_TIMES; i++) {
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
      const found = await lookUpReceipt(receipt);
      if (!('answer' in found) || found.answer === null) continue;
      setBecame(found.answer);
      break;
    }
    setBusy(false);
    router.refresh();
  };
  return (
    <div className="stack" style={{ gap: 4 }}>
      <p className="small mute">
        It goes to the tracking host as the merchant’s would, signed. It is matched and explained, and changes nothing.
      </p>
      {Object.entries(fields).map(([name, value]) => (
        <div className="field" key={name}>
          <label>
            <code>{name}</code>
            <input
              className="text mono"
              value={value}
              onChange={({ target }) => setFields({ ...fields, [name]: target.value })}
            />
          </label>
          {name === 'click_id' && (
            <button type="button" className="more" onClick={() => void newest()}>
              The newest counted click
            </button>
          )}
        </div>
      ))}
      {refused && <p className="bad">{refused}</p>}
      {answer && (
        <p className={answer.status === 202 ? 'note calm' : 'note trouble'} role="status">
          Answered with {answer.status}: <code className="raw">{answer.answer}</code>
          {became && (
            <>
              <br />
              <b>{became}</b>
            </>
          )}
        </p>
      )}
      <div className="actions">
        <Button variant="contained" disabled={busy} onClick={() => void send()}>
          Send it
        </Button>
      </div>
    </div>
  );
}
