import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { fileSources, newestImports } from '@/services/recording';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { RecordTable } from '@/ui/table/RecordTable';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { takeBackImport } from '../actions';
import { ImportConversions } from './ImportConversions';

export const metadata: Metadata = { title: 'Import conversions' };

const SHOWN = 20;

export default async function ImportPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  if (!desk.may('manage_partners')) notFound();
  const { stores, actor, program } = desk;
  return (
    <Shell desk={desk} station="conversions" title="Import conversions">
      <section className="card">
        <div className="head">
          <WayBack href="/conversions" from="Conversions" title="Import" />
          <span className="mute small">A merchant’s file: new conversions, and the status of those that are here.</span>
        </div>
        <ImportConversions sources={fileSources(stores, actor).map(({ source }) => source)} />
        <RecordTable
          label="Imports"
          rows={newestImports(stores, actor, SHOWN)}
          keyOf={({ id }) => String(id)}
          empty={<b>No file was imported yet</b>}
          columns={[
            {
              key: 'time',
              head: 'Imported',
              cell: ({ time }) => <span className="mute">{showTime(time, program.timeZone)}</span>,
            },
            { key: 'source', head: 'From', cell: ({ source }) => <b>{source}</b> },
            { key: 'lines', head: 'Lines', num: true, cell: ({ lines }) => showCount(lines) },
            { key: 'actor', head: 'By', cell: ({ actor: who }) => who },
            {
              key: 'undo',
              head: '',
              cell: ({ id, source, lines, undoneAt }) =>
                undoneAt === null ? (
                  <ConfirmButton
                    label="Take back"
                    variant="text"
                    title={`Take the ${showCount(lines)} lines of ${source} back?`}
                    consequences="What only this file has said is withdrawn with what it earned; what it changed is as it was before. It goes only while none of it is approved or paid."
                    values={{ id }}
                    action={takeBackImport}
                  />
                ) : (
                  <span className="mute">taken back {showTime(undoneAt, program.timeZone)}</span>
                ),
            },
          ]}
        />
      </section>
    </Shell>
  );
}
