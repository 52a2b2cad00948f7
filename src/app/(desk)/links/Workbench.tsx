'use client';
import { useRouter } from 'next/navigation';
import { type ReactNode, useMemo, useState } from 'react';
import { isOwnAddress, takeApart } from '@/core/links/lint';
import { aliasProblem } from '@/core/links/schema';
import { sourceTextProblem, sourceTexts } from '@/core/links/values';
import { CARRIED } from '@/core/placeholders/names';
import type { Option } from '@/ui/form/Picker';
import { ComposeFields } from './ComposeFields';
import { LinkInSight } from './LinkInSight';
import { ProofColumn } from './ProofColumn';
import { type IssueState, issue } from './actions';
import {
  type Bench,
  type Draft,
  type DraftProblems,
  EMPTY,
  draftFields,
  draftFindings,
  draftParts,
  draftProof,
  withChange,
  withSource,
} from './composing';

interface Props {
  bench: Bench;
  /** From the scope. */
  partner?: Option;
  channel?: Option;
  offerId?: number;
  /** The links of the scope, below the one that is composed. */
  children: ReactNode;
}

/** What cannot be written into a link at all, by field. */
function textProblems(draft: Draft): DraftProblems {
  const problems: DraftProblems = {};
  for (const slot of CARRIED) {
    const value = draft.values[slot];
    const problem =
      value &&
      sourceTexts(value)
        .map(sourceTextProblem)
        .find((each) => each !== undefined);
    if (problem) problems[`values.${slot}`] = problem;
  }
  const alias = draft.alias.trim().toLowerCase();
  const bad = alias === '' ? undefined : aliasProblem(alias);
  if (bad) problems.alias = bad;
  return problems;
}

/** What is only missing; not said before one tries to issue. */
const missing = (draft: Draft): DraftProblems => ({
  ...(!draft.partner && { partner: 'Choose the partner who gets the link.' }),
  ...(!draft.channel && { channel: 'Choose the channel it is counted by.' }),
  ...(!draft.offer && { offer: 'Choose the offer it leads to.' }),
  ...(draft.kind === 'deep' && draft.to.trim() === '' && { to: 'A deep link needs the page it leads to.' }),
});

const FIELD_NAMES: Record<string, string> = { partnerId: 'partner', channelId: 'channel', offerId: 'offer' };

/** Compose at the left, the link in the middle, the proof at the right; nothing is saved before "Issue link". */
export function Workbench({ bench, partner, channel, offerId, children }: Props) {
  const router = useRouter();
  const [draft, setDraft] = useState<Draft>(() => {
    const offer = bench.offers.find(({ id }) => id === offerId);
    const source = bench.sources.find(({ id }) => id === channel?.sourceId);
    return withSource({ ...EMPTY, partner, channel, offer }, source);
  });
  const [refused, setRefused] = useState<DraftProblems>({});
  const [issued, setIssued] = useState<IssueState['link']>();
  const [taken, setTaken] = useState<string>();
  const [busy, setBusy] = useState(false);
  const put = (next: (before: Draft) => Draft): void => {
    setDraft(next);
    setRefused({});
    setIssued(undefined);
  };
  const parts = useMemo(() => draftParts(draft, bench), [draft, bench]);
  const findings = useMemo(() => draftFindings(draft, bench), [draft, bench]);
  const proof = useMemo(() => draftProof(draft, bench), [draft, bench]);
  const errors = findings.filter(({ severity }) => severity === 'error');
  const problems: DraftProblems = { ...textProblems(draft), ...refused };

  /** A link of ours is taken apart; anything else is the page. */
  const page = (text: string): void => {
    const apart = takeApart(text, bench.origins);
    setTaken(
      apart
        ? `This was the link ${apart.code} of ours: what it carries was put into the fields.`
        : isOwnAddress(text, bench.origins)
          ? 'This is an address of the tracking host itself. Paste the page it should lead to.'
          : undefined,
    );
    put((before) => (apart ? withChange(before, apart.change, bench) : { ...before, to: text }));
  };
  const submit = async (): Promise<void> => {
    const wanting = missing(draft);
    if (Object.keys({ ...textProblems(draft), ...wanting }).length > 0 || errors.length > 0) return setRefused(wanting);
    setBusy(true);
    const { link, problems: found = [] } = await issue(draftFields(draft));
    setBusy(false);
    setIssued(link);
    // The server's word on a field stands beside the field; anything else beside the partner.
    setRefused(
      Object.fromEntries(found.map(({ field, reason }) => [FIELD_NAMES[field] ?? (field || 'partner'), reason])),
    );
    router.refresh();
  };
  return (
    <section className="card bench" aria-label="Workbench">
      <ComposeFields
        draft={draft}
        bench={bench}
        problems={{ ...(taken && { to: taken }), ...problems }}
        onChange={(part) => put((before) => ({ ...before, ...part }))}
        onPage={page}
        onSource={(id) =>
          put((before) =>
            withSource(
              before,
              bench.sources.find((each) => each.id === id),
            ),
          )
        }
      />
      <div className="middle">
        <LinkInSight
          parts={parts}
          issued={issued}
          errors={errors.length}
          busy={busy}
          paste={draft.source?.preset.paste}
          onIssue={() => void submit()}
          onNext={() => setIssued(undefined)}
        />
        {children}
      </div>
      <ProofColumn
        draft={draft}
        bench={bench}
        proof={proof}
        findings={findings}
        onChange={(part) => setDraft((before) => ({ ...before, ...part }))}
        onFix={(change) => put((before) => withChange(before, change, bench))}
      />
    </section>
  );
}
