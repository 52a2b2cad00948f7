import type { ReactNode } from 'react';
import { SET_ASIDE_WORDS, type SetAsideReason } from '@/core/clicks/set_aside';
import { isCarried } from '@/core/placeholders/names';
import { COLUMN_WORDS } from '@/core/reports/columns';
import { countryName, languageName } from '@/core/routing/words';
import type { ClickDetail } from '@/services/clicks';

const VIA_WORDS: Record<string, string> = {
  deep_link: 'the deep link in the address',
  destination: 'the page kept with the link',
  rule: 'a routing rule',
  landing_page: 'the offer’s landing page',
  overflow: 'the overflow, because a cap was reached',
  fallback: 'the fallback, because something was not live',
  page: 'no redirect: reported by the page tag',
};

/** The click of a trace: who, with what, where to and why; the request as it came one click away. */
export function TraceClick({ click, at }: { click: ClickDetail; at(time: number): ReactNode }) {
  const { facts } = click;
  const machine = [facts.device, facts.os, facts.browser].filter((each) => each !== 'unknown' && each !== '');
  const place = [countryName(facts.country), facts.language && languageName(facts.language)].filter(Boolean);
  const rows: [string, ReactNode][] = [
    ['Click ID', <code key="id">{click.clickId}</code>],
    ['Visitor', `${click.setAside ? 'set aside' : facts.unique}, ${click.client ?? 'address not kept'}`],
    ...(machine.length > 0 ? [[COLUMN_WORDS.device, machine.join(', ')] satisfies [string, ReactNode]] : []),
    ...(place.length > 0 ? [[COLUMN_WORDS.country, place.join(', ')] satisfies [string, ReactNode]] : []),
    ...Object.entries({ ...click.values, ...click.split }).map(([name, value]): [string, ReactNode] => [
      isCarried(name) && click.names[name] ? `${click.names[name]} (${name})` : name,
      <code key={name}>{value}</code>,
    ]),
    ['Way', VIA_WORDS[click.via] ?? click.via],
    ...(click.page
      ? [[COLUMN_WORDS.page, `${click.page}${click.rule ? `, ${click.rule}` : ''}`] satisfies [string, ReactNode]]
      : []),
    ['Sent to', <code key="to">{click.address}</code>],
  ];
  const raw = [`?${click.query}`, click.agent, click.referrer, click.language].filter(Boolean);
  return (
    <li>
      <b>Click</b> {at(click.time)}
      <dl>{rows.map(([name, value]) => [<dt key={name}>{name}</dt>, <dd key={`${name}v`}>{value}</dd>])}</dl>
      {click.setAside && <p className="note wait">{SET_ASIDE_WORDS[click.setAside as SetAsideReason]}</p>}
      {click.flags && <p className="note wait">Flags: {click.flags}</p>}
      <details>
        <summary>Request, raw</summary>
        <pre>{raw.join('\n')}</pre>
      </details>
    </li>
  );
}
