'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { LEFT_TO_PARTNER, LINK_COLUMNS } from '@/core/links/bulk';
import { CHANNEL_KINDS } from '@/core/partners/schema';
import { FileText } from '@/ui/form/FileText';
import { type Option, Picker } from '@/ui/form/Picker';
import { JobReport } from '@/ui/job/JobReport';
import { useJob } from '@/ui/job/useJob';

interface Named {
  id: number;
  label: string;
}
interface Props {
  offers: Named[];
  sources: Named[];
  groups: Named[];
  partner?: Option;
  channel?: Option;
}
interface Choices {
  partner?: Option;
  channel?: Option;
  offerId: string;
  sourceId: string;
  kind: string;
  campaign: string;
}
interface Matrix {
  partners: Option[];
  groupId: string;
  kinds: string[];
  pages: string;
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

interface ForAllProps {
  form: 'lines' | 'matrix';
  choices: Choices;
  offers: Named[];
  sources: Named[];
  onChange(choices: Choices): void;
}

/** What holds for every line that says nothing else. */
function ForAll({ form, choices, offers, sources, onChange }: ForAllProps) {
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
          <>
            <div className="field">
              <span className="label">Partner</span>
              <Picker
                wide
                what="Partner"
                none="none chosen"
                value={choices.partner}
                source="/options/partners?active"
                onPick={(partner) => set({ partner, channel: undefined })}
              />
            </div>
            <div className="field">
              <span className="label">Channel</span>
              <Picker
                wide
                what="Channel"
                none="none chosen"
                value={choices.channel}
                source={choices.partner ? `/options/channels?partner=${choices.partner.id}` : '/options/channels'}
                onPick={(channel) => set({ channel, partner: channel?.partner ?? choices.partner })}
              />
            </div>
          </>
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

interface MatrixProps {
  matrix: Matrix;
  groups: Named[];
  onChange(matrix: Matrix): void;
}

function MatrixFields({ matrix, groups, onChange }: MatrixProps) {
  const set = (part: Partial<Matrix>): void => onChange({ ...matrix, ...part });
  const { partners, kinds } = matrix;
  return (
    <>
      <div className="field">
        <span className="label">Partners</span>
        <div className="actions">
          {partners.map((partner) => (
            <span key={partner.id} className="pick">
              {partner.label}
              <button
                type="button"
                className="clear"
                style={{ margin: 0 }}
                aria-label={`Without ${partner.label}`}
                onClick={() => set({ partners: partners.filter(({ id }) => id !== partner.id) })}
              >
                ×
              </button>
            </span>
          ))}
          <Picker
            what="Partner"
            none={partners.length === 0 ? 'all active ones' : 'another'}
            value={undefined}
            source="/options/partners?active"
            onPick={(partner) =>
              partner && set({ partners: [...partners.filter(({ id }) => id !== partner.id), partner] })
            }
          />
        </div>
      </div>
      {partners.length === 0 && (
        <div className="field">
          <label htmlFor="many-group">Group</label>
          <select
            id="many-group"
            className="text"
            value={matrix.groupId}
            onChange={({ target }) => set({ groupId: target.value })}
          >
            <option value="">any</option>
            {groups.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
        </div>
      )}
      <fieldset className="field" style={{ border: 0, padding: 0, margin: '0 0 10px' }}>
        <legend className="label">Channels: {kinds.length === 0 ? 'all' : 'only these kinds'}</legend>
        <div className="actions">
          {CHANNEL_KINDS.map((kind) => (
            <label key={kind} className="pick" style={{ margin: 0, fontSize: 13, color: 'inherit' }}>
              <input
                type="checkbox"
                checked={kinds.includes(kind)}
                onChange={({ target }) =>
                  set({ kinds: target.checked ? [...kinds, kind] : kinds.filter((each) => each !== kind) })
                }
              />{' '}
              {kind}
            </label>
          ))}
        </div>
      </fieldset>
      <div className="field">
        <label htmlFor="many-pages">Pages, one a line; empty for the landing page</label>
        <textarea
          id="many-pages"
          className="text mono"
          rows={5}
          wrap="off"
          value={matrix.pages}
          placeholder="https://larkmoor.example/glaze/ash"
          onChange={({ target }) => set({ pages: target.value })}
        />
      </div>
    </>
  );
}
