import { type PartnerState, partnerMayBecome } from '@/core/partners/schema';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { changeState } from '../actions';

const STEPS: { to: PartnerState; label: string; consequences: string; reason?: true }[] = [
  { to: 'active', label: 'Approve', consequences: 'Links can be issued, and clicks on them count and earn.' },
  { to: 'refused', label: 'Refuse', consequences: 'The application ends. The reason is kept.', reason: true },
  {
    to: 'paused',
    label: 'Pause',
    consequences:
      'Links lead to the fallback and clicks are set aside until the partner is resumed. Nothing is deleted.',
  },
  {
    to: 'closed',
    label: 'Close',
    consequences:
      'For good: links lead to the fallback, clicks are set aside, new conversions are not matched. What was earned is still paid.',
    reason: true,
  },
];

/** The states a partner can be brought into from here, each with what follows from it. */
export function StateSteps({ id, name, state }: { id: number; name: string; state: PartnerState }) {
  return STEPS.filter(({ to }) => partnerMayBecome(state, to)).map(({ to, label, consequences, reason }) => (
    <ConfirmButton
      key={to}
      label={state === 'paused' && to === 'active' ? 'Resume' : label}
      variant={to === 'active' ? 'contained' : 'outlined'}
      color={reason ? 'error' : 'primary'}
      title={`${label} ${name}?`}
      values={{ id, state: to }}
      reason={reason}
      action={changeState}
      consequences={consequences}
    />
  ));
}
