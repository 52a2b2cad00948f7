'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { DEVICES, SYSTEMS } from '@/core/clicks/machine';
import { showCount, showRatio } from '@/core/reports/measures';
import { type ExampleVisitor, tryPlan } from '@/core/routing/example';
import { DEFAULT_RULE, type RoutingPlan } from '@/core/routing/plan';
import { type Names, conditionWords, countryName, languageName, shareWord } from '@/core/routing/words';
import type { Replayed } from '@/services/routing';
import { Picker, type Option } from '@/ui/form/Picker';
import { ruleTitle } from './RuleRow';
import { replayRouting } from './actions';
import type { PlanOffer } from './drafting';

interface Props {
  plan: RoutingPlan;
  offer: PlanOffer;
  names: Names;
  start: ExampleVisitor;
  yesterday: string;
}

/** The plan tried before it is saved: on one visitor as it is typed, and on yesterday's clicks on request. */
export function TryPanel({ plan, offer, names, start, yesterday }: Props) {
  const [example, setExample] = useState(start);
  const [channel, setChannel] = useState<Option>();
  const put = (part: Partial<ExampleVisitor>): void => setExample({ ...example, ...part });
  const text = (
    name: 'country' | 'language' | 'day' | 'time',
    label: string,
    more: React.ComponentProps<'input'> = {},
  ) => (
    <div className="field">
      <label htmlFor={`try-${name}`}>{label}</label>
      <input
        id={`try-${name}`}
        className="text"
        value={example[name]}
        onChange={({ target }) => put({ [name]: name === 'country' ? target.value.toUpperCase() : target.value })}
        {...more}
      />
    </div>
  );
  const choice = (name: 'device' | 'os', label: string, options: readonly string[]) => (
    <div className="field">
      <label htmlFor={`try-${name}`}>{label}</label>
      <select
        id={`try-${name}`}
        className="text"
        value={example[name]}
        onChange={({ target }) => put({ [name]: target.value })}
      >
        {options.map((option) => (
          <option key={option}>{option}</option>
        ))}
      </select>
    </div>
  );
  return (
    <div>
      <h2>Try it on a visitor</h2>
      <div className="form narrow" style={{ gap: '0 12px' }}>
        {choice('device', 'Device', DEVICES)}
        {choice('os', 'System', SYSTEMS)}
        {text('country', 'Country', { maxLength: 2, className: 'text mono' })}
        {text('language', 'Language', { maxLength: 3, className: 'text mono' })}
        {text('day', 'Day', { type: 'date' })}
        {text('time', 'Time', { type: 'time' })}
      </div>
      <div className="field">
        <Picker
          what="Channel"
          none="any other"
          value={channel}
          source="/options/channels"
          onPick={(option) => {
            setChannel(option);
            put({ channelId: option?.id, partnerId: option?.partner?.id, sourceId: option?.sourceId });
          }}
        />
      </div>
      <Outcome plan={plan} offer={offer} names={names} example={example} />
      <Yesterday plan={plan} offer={offer} day={yesterday} />
    </div>
  );
}

function Outcome({
  plan,
  offer,
  names,
  example,
}: Pick<Props, 'plan' | 'offer' | 'names'> & { example: ExampleVisitor }) {
  if (!/^\d\d:\d\d$/.test(example.time) || !/^\d{4}-\d\d-\d\d$/.test(example.day)) return null;
  const { looked, rule, pages } = tryPlan(offer.landingPages, plan, example);
  const who = `${/^[aeiou]/.test(example.device) ? 'An' : 'A'} ${example.device} in ${countryName(example.country) || 'an unknown country'} at ${example.time}, ${languageName(example.language) || 'unknown language'}`;
  return (
    <div className="note calm" role="status" style={{ marginBottom: 14 }}>
      <p>
        {who}, goes to{' '}
        {pages.map(({ page, share }, i) => (
          <span key={page}>
            {i > 0 && ', '}
            <b>{page}</b>
            {pages.length > 1 && ` (${shareWord(share)})`}
          </span>
        ))}
        .
      </p>
      <ol className="rows">
        {looked.map(({ rule: id, failed, off }) => {
          const number = plan.rules.findIndex((each) => each.id === id) + 1;
          const found = plan.rules[number - 1];
          return (
            <li key={id} className={id === rule ? 'won' : undefined}>
              {found && ruleTitle(found, number)}
              {failed && `: not so that ${conditionWords(failed, names)}`}
              {off && ': off'}
            </li>
          );
        })}
        {rule === DEFAULT_RULE && <li className="won">Everybody else</li>}
      </ol>
    </div>
  );
}

function Yesterday({ plan, offer, day }: { plan: RoutingPlan; offer: PlanOffer; day: string }) {
  const [state, setState] = useState<{ of?: RoutingPlan; busy?: true; answer?: Replayed; refused?: string }>({});
  const shown = state.of === plan ? state : {};
  const replay = async (): Promise<void> => {
    setState({ of: plan, busy: true });
    setState({ of: plan, ...(await replayRouting(offer.id, plan)) });
  };
  const title = (rule: string): string => {
    const number = plan.rules.findIndex(({ id }) => id === rule) + 1;
    const found = plan.rules[number - 1];
    if (found) return ruleTitle(found, number);
    return (
      {
        [DEFAULT_RULE]: 'Everybody else',
        destination: 'page of the link',
        deep_link: 'deep link',
        landing_page: 'first landing page',
      }[rule] ?? rule
    );
  };
  return (
    <div>
      <Button variant="outlined" disabled={shown.busy} onClick={() => void replay()}>
        {shown.busy ? 'Sending them through' : 'Try it on yesterday’s clicks'}
      </Button>
      <div role="status">
        {shown.refused && <p className="bad">{shown.refused}</p>}
        {shown.answer && (
          <>
            <p style={{ margin: '8px 0' }}>
              {shown.answer.clicks === 0
                ? `There were no counted clicks on ${day}.`
                : `Of ${showCount(shown.answer.clicks)} counted clicks on ${day}, ${showCount(shown.answer.changed)} (${showRatio(shown.answer.changed, shown.answer.clicks)}) would have gone elsewhere than by the version in force.`}
            </p>
            {shown.answer.to.length > 0 && (
              <table className="records plainly" aria-label="Yesterday’s clicks by where they go">
                <thead>
                  <tr>
                    <th scope="col">Page</th>
                    <th scope="col" className="num">
                      In force
                    </th>
                    <th scope="col" className="num">
                      This plan
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {shown.answer.to.map(({ rule, page, now, before }) => (
                    <tr key={`${rule} ${page}`}>
                      <td>
                        {page || title(rule)} {page && <span className="mute small">{title(rule)}</span>}
                      </td>
                      <td className="num">{showCount(before)}</td>
                      <td className="num">{showCount(now)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </>
        )}
      </div>
    </div>
  );
}
