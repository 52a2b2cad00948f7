import type { RunRow } from '@/store/books/payouts';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { RunningJob } from '@/ui/job/JobProgress';
import type { Desk } from '../../../desk';
import { abandon, approve, settle } from '../actions';

/** What comes next for a run: a second person approves, finance takes the file, the bank pays. */
export function RunSteps({ desk, run }: { desk: Desk; run: RunRow }) {
  const values = { run: run.id };
  const mine = run.draftedBy === desk.actor.userId;
  return (
    <div className="right">
      {run.state === 'drafted' && mine && <span className="mute small">A second person approves it.</span>}
      {run.state === 'drafted' && !mine && desk.may('approve_payouts') && (
        <ConfirmButton
          label="Approve run"
          variant="contained"
          title={`Approve run ${run.number}?`}
          values={values}
          action={approve}
          consequences={`${run.partners} partners will be paid. Until the payment file is taken the run can still be abandoned.`}
        />
      )}
      {(run.state === 'approved' || run.state === 'exported' || run.state === 'settled') &&
        desk.may('draft_payouts') && (
          <a className="pick" href={`/payouts/${run.id}/payments`}>
            Payment file
          </a>
        )}
      {run.state === 'exported' && desk.may('draft_payouts') && (
        <ConfirmButton
          label="Mark paid"
          variant="contained"
          title={`Is run ${run.number} paid?`}
          values={values}
          action={settle}
          working={<RunningJob kind="settle_run" each="Partner" besides="Marking their commissions paid" />}
          consequences="Say so once the bank has carried out the payments. The money leaves the books; a payment that comes back is noted by itself."
        />
      )}
      {(run.state === 'drafted' || run.state === 'approved') && desk.may('draft_payouts') && (
        <ConfirmButton
          label="Abandon"
          color="error"
          title={`Abandon run ${run.number}?`}
          reason
          values={values}
          action={abandon}
          working={<RunningJob kind="abandon_run" each="Partner" besides="Taking their commissions out of the run" />}
          consequences="Its money goes back to the partners’ approved balances, and a new run can be drafted."
        />
      )}
    </div>
  );
}
