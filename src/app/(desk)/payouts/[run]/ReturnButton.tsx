import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { noteReturn } from '../actions';

export function ReturnButton({ run, partner, name }: { run: number; partner: number; name: string }) {
  return (
    <ConfirmButton
      label="Came back"
      variant="text"
      title={`The payment to ${name} came back?`}
      reason
      values={{ run, partner }}
      action={noteReturn}
      consequences="The amount is the partner’s again, and the payout details are on hold until they are mended. Give the bank’s reason."
    />
  );
}
