'use client';
import { useRouter } from 'next/navigation';
import { type ReactNode, useMemo, useState } from 'react';
import type { RateSheet } from '@/core/commissions/sheet';
import type { Currency } from '@/core/money/currency';
import type { Day } from '@/core/time/calendar';
import type { Option } from '@/ui/form/Picker';
import { ComposeFields } from './ComposeFields';
import { LinkInSight } from './LinkInSight';
import { ProofColumn } from './ProofColumn';
import { issue } from './actions';
import { type ComposedOffer, type Draft, type DraftProblems, draftParts, draftProblems, draftProof } from './composing';

interface Props {
  origin: string;
  currency: Currency;
  offers: ComposedOffer[];
  rows: RateSheet['rows'];
  today: Day;
  /** From the scope. */
  partner?: Option;
  channel?: Option;
  offerId?: number;
  /** Where links of the tracking host lead on this machine; in the demo only. */
  hereOrigin?: string;
  /** The links of the scope, below the one that is composed. */
  children: ReactNode;
}

/** Compose at the left, the link in the middle, the proof at the right; nothing is saved before "Issue link". */
export function Workbench({
  origin,
  currency,
  offers,
  rows,
  today,
  partner,
  channel,
  offerId,
  hereOrigin,
  children,
}: Props) {
  const router = useRouter();
  const [draft, setDraft] = useState<Draft>({
    partner,
    channel,
    offer: offers.find(({ id }) => id === offerId),
    to: '',
    slots: {},
    examples: {},
  });
  const [refused, setRefused] = useState<DraftProblems>({});
  const [issued, setIssued] = useState<string>();
  const [busy, setBusy] = useState(false);
  const change = (part: Partial<Draft>): void => {
    setDraft((before) => ({ ...before, ...part }));
    setRefused({});
    setIssued(undefined);
  };
  const parts = useMemo(() => draftParts(draft, origin), [draft, origin]);
  const problems: DraftProblems = { ...draftProblems(draft, origin), ...refused };
  const submit = async (): Promise<void> => {
    const missing: DraftProblems = {
      ...(!draft.partner && { partner: 'Choose the partner who gets the link.' }),
      ...(!draft.channel && { channel: 'Choose the channel it is counted by.' }),
      ...(!draft.offer && { offer: 'Choose the offer it leads to.' }),
    };
    if (Object.keys({ ...problems, ...missing }).length > 0) return setRefused(missing);
    setBusy(true);
    const { address, problems: found = [] } = await issue({
      partnerId: draft.partner?.id,
      channelId: draft.channel?.id,
      offerId: draft.offer?.id,
      slots: parts.slots,
      to: parts.to ?? '',
    });
    setBusy(false);
    setIssued(address);
    // The server's word on a field stands beside the field; anything else beside the partner.
    setRefused(
      Object.fromEntries(
        found.map(({ field, reason }) => [
          field.replace(/Id$/, '').replace(/^slots\.(\w+).*/, '$1') || 'partner',
          reason,
        ]),
      ),
    );
    router.refresh();
  };
  return (
    <section className="card bench" aria-label="Workbench">
      <ComposeFields draft={draft} offers={offers} problems={problems} onChange={change} />
      <div className="middle">
        <LinkInSight
          parts={parts}
          issued={issued}
          busy={busy}
          hereOrigin={hereOrigin}
          onIssue={() => void submit()}
          onNext={() => setIssued(undefined)}
        />
        {children}
      </div>
      <ProofColumn
        draft={draft}
        proof={draftProof(draft, origin)}
        rows={rows}
        currency={currency}
        today={today}
        onChange={change}
      />
    </section>
  );
}
