import { showTime } from '@/core/time/zones';
import { listTokens } from '@/services/sign_in';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';
import { TokenForm } from './SetupForms';
import { endToken } from './actions';

/** Keys to the API, and their end. */
export const Tokens = ({ desk }: { desk: Desk }) => (
  <>
    <div className="pad">
      <p style={{ marginBottom: 12 }}>
        A token lets a program of yours do over <code>/api/v1</code> what you may do here.{' '}
        <a href="/api/v1/openapi.json">Description of the API</a>
      </p>
      <TokenForm />
    </div>
    <RecordTable
      label="Tokens"
      rows={listTokens(desk.stores, desk.actor)}
      keyOf={({ id }) => String(id)}
      empty={<b>No token yet</b>}
      columns={[
        { key: 'name', head: 'For', cell: ({ name }) => name },
        { key: 'user', head: 'With the rights of', cell: ({ userName }) => userName },
        { key: 'made', head: 'Made', cell: ({ createdAt }) => showTime(createdAt, desk.program.timeZone) },
        {
          key: 'used',
          head: 'Last used',
          cell: ({ lastUsedAt }) => (lastUsedAt === null ? 'never' : showTime(lastUsedAt, desk.program.timeZone)),
        },
        {
          key: 'end',
          head: '',
          cell: ({ id, name, revokedAt }) =>
            revokedAt === null ? (
              <ConfirmButton
                label="Revoke"
                variant="text"
                color="error"
                title={`Revoke “${name}”?`}
                values={{ id }}
                action={endToken}
                consequences="Whatever uses it is refused from now on. This cannot be undone; a new token can be made."
              />
            ) : (
              <span className="mute">revoked</span>
            ),
        },
      ]}
    />
  </>
);
