import Link from 'next/link';
import { CARRIED } from '@/core/placeholders/names';
import { writtenValue } from '@/core/links/values';
import { showCount } from '@/core/reports/measures';
import { listSources, removedSources } from '@/services/sources';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';
import { copySource, dropSource } from './actions';

/** The traffic sources with how their links are written. */
export function SourceList({ desk }: { desk: Desk }) {
  const removed = removedSources(desk.stores, desk.actor);
  return (
    <>
      <RecordTable
        label="Sources"
        rows={listSources(desk.stores, desk.actor)}
        keyOf={({ id }) => String(id)}
        empty={
          <>
            <b>No source yet</b>A source says how its links are written: placeholders, parameter names, where they are
            pasted.
          </>
        }
        columns={[
          {
            key: 'name',
            head: 'Source',
            cell: ({ id, preset }) => (
              <Link className="strong" href={`/setup/sources/${id}`}>
                {preset.name}
              </Link>
            ),
          },
          {
            key: 'values',
            head: 'A link carries',
            cell: ({ preset }) => (
              <code>
                {CARRIED.flatMap((slot) => {
                  const set = preset.values[slot];
                  return set ? [`${set.parameter || slot}=${writtenValue(set.value)}`] : [];
                }).join(' ')}
              </code>
            ),
          },
          {
            key: 'postback',
            head: 'Reports back',
            cell: ({ preset }) => (preset.postback ? 'yes' : <span className="mute">no</span>),
          },
          { key: 'channels', head: 'Channels', num: true, cell: ({ channels }) => showCount(channels) },
          { key: 'links', head: 'Links', num: true, cell: ({ links }) => showCount(links) },
          {
            key: 'act',
            head: '',
            cell: ({ id, preset }) => (
              <div className="actions small" style={{ flexWrap: 'nowrap' }}>
                <a href={`/setup/sources/${id}/json`} download>
                  JSON
                </a>
                <form action={copySource}>
                  <button
                    className="clear"
                    style={{ margin: 0 }}
                    name="id"
                    value={id}
                    aria-label={`Duplicate ${preset.name}`}
                  >
                    Duplicate
                  </button>
                </form>
                <form action={dropSource}>
                  <button
                    className="clear"
                    style={{ margin: 0 }}
                    name="id"
                    value={id}
                    aria-label={`Take ${preset.name} out of use`}
                  >
                    Remove
                  </button>
                </form>
              </div>
            ),
          },
        ]}
      />
      {removed.length > 0 && (
        <form action={dropSource} className="pager">
          <input type="hidden" name="restore" value="1" />
          <span>Out of use:</span>
          {removed.map(({ id, preset }) => (
            <button key={id} className="more" name="id" value={id} aria-label={`Take ${preset.name} into use again`}>
              {preset.name}, take back
            </button>
          ))}
        </form>
      )}
    </>
  );
}
