'use client';
import { usePathname, useRouter } from 'next/navigation';
import type { MergedMail } from '@/services/mail_copy';
import { CopyButton } from '@/ui/feedback/CopyButton';
import { Picker } from '@/ui/form/Picker';

/** The copy as one partner gets it; another is chosen by searching. */
export function MailPreview({ mail }: { mail: MergedMail | undefined }) {
  const router = useRouter();
  const path = usePathname();
  return (
    <div className="stack">
      <div className="field" style={{ margin: 0 }}>
        <span className="label">As it goes to</span>
        <Picker
          wide
          what="Partner"
          none="Choose a partner"
          value={
            mail && { id: mail.partnerId, label: `${mail.partnerName}, ${mail.channelName}`, about: mail.partnerCode }
          }
          source="/options/partners?active"
          onPick={(partner) => partner && router.push(`${path}?for=${partner.id}`, { scroll: false })}
        />
      </div>
      {mail ? (
        <Merged mail={mail} />
      ) : (
        <p className="note wait">This partner has no channel, so there is no link to send.</p>
      )}
    </div>
  );
}

function Merged({ mail }: { mail: MergedMail }) {
  return (
    <>
      <div>
        <p className="strong">{mail.subject}</p>
        <p className="mute small">to {mail.email}</p>
      </div>
      <div className="mail">{mail.text}</div>
      {mail.link === null ? (
        <p className="note wait">This partner has no link for the offer and page yet. Issue the missing ones first.</p>
      ) : (
        <div className="actions">
          <CopyButton text={mail.text} label="Copy text" />
          <CopyButton text={mail.subject} label="Copy subject" />
        </div>
      )}
    </>
  );
}
