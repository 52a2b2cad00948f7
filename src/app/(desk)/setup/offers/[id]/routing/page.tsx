import type { Metadata } from 'next';
import Link from 'next/link';
import { addDays } from '@/core/time/calendar';
import { showTime, wallClock } from '@/core/time/zones';
import type { Names } from '@/core/routing/words';
import { readOffer } from '@/services/offers';
import { askReport } from '@/services/reports';
import { planVersions, readPlan } from '@/services/routing';
import { wholeNumber } from '@/services/scope';
import { listSources } from '@/services/sources';
import { Shell } from '../../../../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../../../../desk';
import { foundOrNot } from '../../../../../found';
import { PlanEditor } from './PlanEditor';
import { SplitTests } from './SplitTests';
import { Versions } from './Versions';

export const metadata: Metadata = { title: 'Routing' };

/** Names of what the conditions of any version speak of. */
function namesOf(desk: Desk, offerId: number): Names {
  const { stores, actor } = desk;
  const { partners } = stores.books;
  const names: Record<string, string> = {};
  for (const { id, preset } of listSources(stores, actor)) names[`source ${id}`] = preset.name;
  for (const { plan } of [readPlan(stores, actor, offerId), ...planVersions(stores, actor, offerId)])
    for (const { when } of plan.rules)
      for (const each of when) {
        if (!('values' in each)) continue;
        for (const value of each.values) {
          if (each.field === 'partner') names[`partner ${value}`] = partners.byId(Number(value))?.name ?? value;
          if (each.field === 'channel') names[`channel ${value}`] = partners.channel(Number(value))?.name ?? value;
        }
      }
  return names;
}

export default async function RoutingPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const desk = await openDesk(searchParams);
  const { stores, actor, program } = desk;
  const { id } = await params;
  const offer = foundOrNot(() => readOffer(stores, actor, wholeNumber(id) ?? 0));
  const version = readPlan(stores, actor, offer.id);
  const versions = planVersions(stores, actor, offer.id);
  const tests = await askReport('splits', actor, offer.id);
  const now = wallClock(stores.now(), program.timeZone);
  return (
    <Shell desk={desk} station="setup" title={`Routing of ${offer.name}`}>
      <section className="card">
        <div className="head">
          <Link href="/setup?shelf=offers" className="mute">
            Offers
          </Link>
          <Link href={`/setup/offers/${offer.id}`} className="mute">
            {offer.name}
          </Link>
          <h2 className="title">Routing</h2>
          <span className="mute small right">
            {version.version === 0
              ? 'No plan yet: every visitor sees the first landing page'
              : `Version ${version.version}, by ${version.actor}, ${showTime(version.time, program.timeZone)}`}
          </span>
        </div>
        <PlanEditor
          key={version.version}
          offer={{ id: offer.id, name: offer.name, landingPages: offer.landingPages }}
          plan={version.plan}
          version={version.version}
          names={namesOf(desk, offer.id)}
          sources={listSources(stores, actor).map((source) => ({ id: source.id, name: source.preset.name }))}
          currency={program.currency}
          fallback={offer.fallback || program.fallback}
          example={{ day: now.day, time: '22:00', country: 'BE', device: 'phone', os: 'Android', language: 'nl' }}
          yesterday={addDays(now.day, -1)}
          mayChange={desk.may('manage_setup')}
        >
          {tests.length > 0 && <SplitTests tests={tests} currency={program.currency} />}
          {versions.length > 0 && <Versions desk={desk} versions={versions} offerId={offer.id} />}
        </PlanEditor>
      </section>
    </Shell>
  );
}
