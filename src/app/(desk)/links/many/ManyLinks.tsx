'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { LEFT_TO_PARTNER, LINK_COLUMNS } from '@/core/links/bulk';
import { FileText } from '@/ui/form/FileText';
import type { Option } from '@/ui/form/Picker';
import { JobReport } from '@/ui/job/JobReport';
import { useJob } from '@/ui/job/useJob';
import { type Choices, ForAll, type Named } from './ForAll';
import { type Matrix, MatrixFields } from './MatrixFields';

interface Props {
  offers: Named[];
  sources: Named[];
  groups: Named[];
  partner?: Option;
  channel?: Option;
}
const EXAMPLE = `partner,channel,destination,sub1
SLOWWHEEL,MAIN,https://larkmoor.example/kilns/studio-60,review
SLOWWHEEL,NL-AUT,https://larkmoor.example/glaze/ash,autumn

or only addresses, one a line`;

/** Links from lines or as a matrix: first what would become of each line, then the good ones in one go. */
export function ManyLinks({ offers, sources, groups, partner, channel }: Props) {
  const [form, setForm] = useState<'lines' | 'matrix'>('lines');
  const [text, setText] = useState('');
  const [matrix, setMatrix] = useState<Matrix>({ partners: [], groupId: '', kinds: [], pages: '' });
  const [choices, setChoices] = useState<Choices>({
    partner,
    channel,
    offerId: '',
    sourceId: '',
    kind: '',
    campaign: '',
  });
  const { job, problem, begin, cancel, show, reset } = useJob('links');
  const change = (work: () => void): void => {
    work();
    reset();
  };
  const input = (): object => {
    const { offerId, sourceId, kind, campaign } = choices;
    const defaults = {
      ...(form === 'lines' && { partnerId: choices.partner?.id, channelId: choices.channel?.id }),
      ...(offerId && { offerId: Number(offerId) }),
      ...(sourceId && { sourceId: Number(sourceId) }),
      ...(kind && { kind }),
      ...(campaign && { campaign }),
    };
    if (form === 'lines') return { form, text, defaults };
    const { partners, groupId, kinds, pages } = matrix;
    const chosen = { partnerIds: partners.map(({ id }) => id), channelKinds: kinds, pages };
    return { form, ...chosen, ...(groupId && { groupId: Number(groupId) }), defaults };
  };
  const ready = job?.state === 'done' && !job.write && job.counts.new > 0;
  return (
    <>
      <div className="pad columns wide-left">
        <div>
          <div className="segments" role="radiogroup" aria-label="From" style={{ maxWidth: 340, marginBottom: 12 }}>
            {(['lines', 'matrix'] as const).map((each) => (
              <button
                key={each}
                type="button"
                role="radio"
                aria-checked={form === each}
                onClick={() => change(() => setForm(each))}
              >
                {each === 'lines' ? 'Lines of a file' : 'Partners × channels × pages'}
              </button>
            ))}
          </div>
          {form === 'lines' ? (
            <>
              <FileText
                id="many-lines"
                label="CSV with a head of column names, or one address a line"
                value={text}
                placeholder={EXAMPLE}
                onChange={(next) => change(() => setText(next))}
              />
              <details className="fold">
                <summary>Columns</summary>
                <p className="mute small">
                  <code>{LINK_COLUMNS.join(', ')}</code>. Partner, channel and offer are named by code, a source by
                  name. A placeholder of the source is kept as it stands, <code>{LEFT_TO_PARTNER}</code> leaves a value
                  to the partner, tags are separated by “;”.
                </p>
              </details>
            </>
          ) : (
            <MatrixFields matrix={matrix} groups={groups} onChange={(next) => change(() => setMatrix(next))} />
          )}
        </div>
        <ForAll
          form={form}
          choices={choices}
          offers={offers}
          sources={sources}
          onChange={(next) => change(() => setChoices(next))}
        />
      </div>
      <div className="pad stack" style={{ paddingTop: 0 }}>
        <div className="actions">
          <Button
            variant={ready ? 'outlined' : 'contained'}
            disabled={job?.state === 'running'}
            onClick={() => void begin(input(), false)}
          >
            Look what becomes of them
          </Button>
          {ready && (
            <Button variant="contained" onClick={() => void begin(input(), true)}>
              Issue {job.counts.new.toLocaleString('en-GB')} {job.counts.new === 1 ? 'link' : 'links'}
            </Button>
          )}
          {job?.state === 'done' && job.write && (
            <span className="strong" role="status">
              Issued {job.counts.new.toLocaleString('en-GB')}. Reading the same lines again issues nothing twice.
            </span>
          )}
        </div>
        {problem && (
          <p className="note trouble" role="alert">
            {problem}
          </p>
        )}
        {job && <JobReport job={job} thing="Link" onCancel={cancel} onShow={show} />}
      </div>
    </>
  );
}
