'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { type ReactNode, useState } from 'react';
import type { Currency } from '@/core/money/currency';
import type { ExampleVisitor } from '@/core/routing/example';
import { type RoutingPlan, planSchema } from '@/core/routing/plan';
import type { Names } from '@/core/routing/words';
import { type Problem, check } from '@/core/schema/problems';
import { SortableList } from '@/ui/list/SortableList';
import { CapFields } from './CapFields';
import { MixFields } from './MixFields';
import { RuleRow, ruleTitle } from './RuleRow';
import { TryPanel } from './TryPanel';
import { saveRouting } from './actions';
import { type PlanOffer, newRule, replaced, without } from './drafting';

interface Props {
  offer: PlanOffer;
  plan: RoutingPlan;
  version: number;
  names: Names;
  sources: readonly { id: number; name: string }[];
  currency: Currency;
  fallback: string;
  example: ExampleVisitor;
  yesterday: string;
  mayChange: boolean;
  /** What stands below the try-out. */
  children: ReactNode;
}

/** An offer's routing as a list that reads like sentences; nothing changes for visitors before it is saved. */
export function PlanEditor(props: Props) {
  const { offer, plan: saved, version, sources, currency, fallback, example, yesterday, mayChange, children } = props;
  const router = useRouter();
  const [plan, setPlan] = useState(saved);
  const [undo, setUndo] = useState<RoutingPlan[]>([]);
  const [names, setNames] = useState(props.names);
  const [open, setOpen] = useState<string>();
  const [reason, setReason] = useState('');
  const [refused, setRefused] = useState<readonly Problem[]>([]);
  const changed = JSON.stringify(plan) !== JSON.stringify(saved);
  const checked = check(planSchema, plan);
  const problems = [...(checked.ok ? [] : checked.problems), ...refused];
  const change = (next: RoutingPlan): void => {
    setUndo([...undo.slice(-49), plan]);
    setPlan(next);
    setRefused([]);
  };
  const back = (): void => {
    const before = undo.at(-1);
    if (before) setPlan(before);
    setUndo(undo.slice(0, -1));
  };
  const save = async (): Promise<void> => {
    const { problems: found } = await saveRouting(offer.id, { plan, basedOn: version, reason });
    setRefused(found ?? []);
    if (!found) router.refresh();
  };
  const first = offer.landingPages[0]?.name ?? '';
  const onName = (key: string, name: string): void => setNames({ ...names, [key]: name });
  const problemsOf = (field: string): string[] =>
    problems.filter((each) => each.field === field || each.field.startsWith(`${field}.`)).map((each) => each.reason);
  const general = problems.filter(({ field }) => field === '' || field === 'overflow' || field.startsWith('caps'));
  return (
    <div className="routing">
      <fieldset disabled={!mayChange}>
        <h2>Rules, from the top: the first that holds decides</h2>
        {plan.rules.length === 0 && (
          <p className="mute" style={{ marginBottom: 8 }}>
            No rule yet. A rule sends some visitors, by country, device, time or channel, to pages of their own.
          </p>
        )}
        <SortableList
          label="Rules"
          items={plan.rules}
          idOf={({ id }) => id}
          nameOf={(rule) => ruleTitle(rule, plan.rules.indexOf(rule) + 1)}
          onOrder={(rules) => change({ ...plan, rules })}
        >
          {(rule, i) => (
            <RuleRow
              rule={rule}
              number={i + 1}
              {...{ offer, names, sources, onName }}
              today={example.day}
              open={open === rule.id}
              problems={problemsOf(`rules.${i}`)}
              onOpen={(wanted) => setOpen(wanted ? rule.id : undefined)}
              onChange={(next) => change({ ...plan, rules: replaced(plan.rules, i, next) })}
              onRemove={() => change({ ...plan, rules: without(plan.rules, i) })}
            />
          )}
        </SortableList>
        <Button
          onClick={() => {
            const known = undo.flatMap(({ rules }) => rules.map(({ id }) => id));
            const rule = newRule(plan, known, first);
            change({ ...plan, rules: [...plan.rules, rule] });
            setOpen(rule.id);
          }}
        >
          Add a rule
        </Button>
        <h2>Everybody else</h2>
        {plan.otherwise.to.length === 0 && (
          <p className="mute">
            sees <b>{first}</b>, the first landing page
          </p>
        )}
        <MixFields
          mix={plan.otherwise}
          offer={offer}
          of="everybody else"
          onChange={(otherwise) => change({ ...plan, otherwise })}
        />
        {problemsOf('otherwise').map((problem) => (
          <p key={problem} className="bad">
            {problem}
          </p>
        ))}
        <h2>Caps</h2>
        <CapFields plan={plan} currency={currency} fallback={fallback} onChange={change} />
        {general.map(({ field, reason: why }) => (
          <p key={field + why} className="bad" role="alert">
            {why}
          </p>
        ))}
        <div className="save">
          <input
            className="text"
            aria-label="Why it is changed"
            placeholder="Why, for the list of versions"
            maxLength={200}
            value={reason}
            onChange={({ target }) => setReason(target.value)}
          />
          <Button variant="contained" disabled={!changed || !checked.ok} onClick={() => void save()}>
            Put in force
          </Button>
          <Button disabled={undo.length === 0} onClick={back}>
            Undo
          </Button>
          <Button disabled={!changed} onClick={() => change(saved)}>
            Discard
          </Button>
        </div>
      </fieldset>
      <div className="beside">
        <TryPanel plan={plan} offer={offer} names={names} start={example} yesterday={yesterday} />
        {children}
      </div>
    </div>
  );
}
