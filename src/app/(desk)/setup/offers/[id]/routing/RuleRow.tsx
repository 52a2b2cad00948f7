'use client';
import Button from '@mui/material/Button';
import type { Rule } from '@/core/routing/plan';
import { type Names, conditionWords, shareWord, sharesOf } from '@/core/routing/words';
import { ConditionFields } from './ConditionFields';
import { MixFields } from './MixFields';
import { type PlanOffer, conditionOf, replaced, without } from './drafting';

interface Props {
  rule: Rule;
  number: number;
  offer: PlanOffer;
  names: Names;
  sources: readonly { id: number; name: string }[];
  today: string;
  open: boolean;
  problems: readonly string[];
  onOpen(open: boolean): void;
  onChange(rule: Rule): void;
  onRemove(): void;
  onName(key: string, name: string): void;
}

export const ruleTitle = ({ name }: Pick<Rule, 'name'>, number: number): string => name || `Rule ${number}`;

/** Where pages go, as the end of a sentence: "70 % Kiln finder, 30 % All kilns". */
export const MixWords = ({ mix }: { mix: Rule['mix'] }) => (
  <>
    {sharesOf(mix)
      .filter(({ on }) => on)
      .map(({ page, share }, i, all) => (
        <span key={page}>
          {i > 0 && ', '}
          {all.length > 1 && `${shareWord(share)} `}
          <b>{page}</b>
        </span>
      ))}
  </>
);

/** A rule as a sentence; opened, the fields behind it. */
export function RuleRow(props: Props) {
  const { rule, number, names, open, problems, onOpen, onChange, onRemove } = props;
  const title = ruleTitle(rule, number);
  return (
    <div className={`sentence grow${rule.on ? '' : ' off'}`}>
      <div className="pair middle-row">
        <span className="grow">
          {rule.name && <span className="strong">{rule.name}: </span>}
          {rule.when.length === 0 ? 'always' : 'when '}
          {rule.when.map((condition, i) => (
            <span key={i}>
              {i > 0 && <span className="mute"> and </span>}
              {conditionWords(condition, names)}
            </span>
          ))}
          <span className="mute"> → </span>
          <MixWords mix={rule.mix} />
          {rule.overOwn && <span className="mute small">, also deep links</span>}
          {!rule.on && <span className="tag wait"> off</span>}
        </span>
        <Button aria-expanded={open} aria-label={`${open ? 'Close' : 'Edit'} ${title}`} onClick={() => onOpen(!open)}>
          {open ? 'Close' : 'Edit'}
        </Button>
        <label className="small nowrap">
          <input
            type="checkbox"
            checked={rule.on}
            aria-label={`${title} is on`}
            onChange={({ target }) => onChange({ ...rule, on: target.checked })}
          />{' '}
          on
        </label>
        <button type="button" className="clear" aria-label={`Remove ${title}`} onClick={onRemove}>
          ×
        </button>
      </div>
      {problems.map((problem) => (
        <p key={problem} className="bad">
          {problem}
        </p>
      ))}
      {open && <RuleFields {...props} title={title} />}
    </div>
  );
}

function RuleFields({ rule, offer, names, sources, today, title, onChange, onName }: Props & { title: string }) {
  return (
    <div className="fields">
      <div className="stack" style={{ gap: 6 }}>
        <div className="field" style={{ margin: 0 }}>
          <label htmlFor={`name-${rule.id}`}>Name</label>
          <input
            id={`name-${rule.id}`}
            className="text"
            value={rule.name}
            maxLength={80}
            onChange={({ target }) => onChange({ ...rule, name: target.value })}
          />
        </div>
        {rule.when.map((condition, i) => (
          <div key={`${i} ${condition.field}`} className="pair middle-row">
            <span className="grow">
              <ConditionFields
                condition={condition}
                of={`condition ${i + 1} of ${title}`}
                {...{ names, sources, today, onName }}
                onChange={(next) => onChange({ ...rule, when: replaced(rule.when, i, next) })}
              />
            </span>
            <button
              type="button"
              className="clear"
              aria-label={`Remove condition ${i + 1} of ${title}`}
              onClick={() => onChange({ ...rule, when: without(rule.when, i) })}
            >
              ×
            </button>
          </div>
        ))}
        <div className="actions">
          <Button onClick={() => onChange({ ...rule, when: [...rule.when, conditionOf('device', today)] })}>
            Add a condition
          </Button>
          <label className="small">
            <input
              type="checkbox"
              checked={rule.overOwn}
              onChange={({ target }) => onChange({ ...rule, overOwn: target.checked })}
            />{' '}
            also for links with a page of their own
          </label>
        </div>
      </div>
      <MixFields mix={rule.mix} offer={offer} of={title} onChange={(mix) => onChange({ ...rule, mix })} />
    </div>
  );
}
