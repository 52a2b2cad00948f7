'use client';
import { type Option, Picker } from '@/ui/form/Picker';

interface Props {
  partner: Option | undefined;
  channel: Option | undefined;
  /** What stands where nothing is chosen: for the partner, for the channel. */
  none: readonly [string, string];
  problems?: { partner?: string; channel?: string };
  onPick(part: { partner?: Option; channel?: Option }): void;
}

/** A partner and one of its channels; a channel brings its partner along. */
export function PartnerChannel({ partner, channel, none, problems = {}, onPick }: Props) {
  const bad = (text: string | undefined) => text && <p className="bad">{text}</p>;
  return (
    <>
      <div className="field">
        <span className="label">Partner</span>
        <Picker
          wide
          what="Partner"
          none={none[0]}
          value={partner}
          source="/options/partners?active"
          bad={!!problems.partner}
          onPick={(picked) => onPick({ partner: picked, channel: undefined })}
        />
        {bad(problems.partner)}
      </div>
      <div className="field">
        <span className="label">Channel</span>
        <Picker
          wide
          what="Channel"
          none={none[1]}
          value={channel}
          source={partner ? `/options/channels?partner=${partner.id}` : '/options/channels'}
          bad={!!problems.channel}
          onPick={(picked) => onPick({ channel: picked, partner: picked?.partner ?? partner })}
        />
        {bad(problems.channel)}
      </div>
    </>
  );
}
