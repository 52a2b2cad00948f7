import Joi from 'joi';
import { MAIL_NAMES } from '../placeholders/names';
import { compileTemplate } from '../placeholders/template';
import { id, line, refusedWhen } from '../schema/fields';

export type MailValues = Readonly<Record<(typeof MAIL_NAMES)[number], string>>;

/** Text for a mailing in which each partner's own link stands. */
export interface MailCopy {
  name: string;
  subject: string;
  text: string;
  offerId: number;
  /** The page the links lead to; empty for the landing page. */
  to: string;
}

/** Why a text cannot be merged, or undefined: only plain {name} of the known fields. */
export function mailTextProblem(text: string): string | undefined {
  const template = compileTemplate(text, MAIL_NAMES);
  if (!template.ok) return template.reason;
  const fancy = /\{[+#./;?&][^}]*\}|\{[^}]*[,*:][^}]*\}/.exec(text);
  return fancy ? `"${fancy[0]}" is written for addresses. In mail copy a field is plain, like {link}.` : undefined;
}

/** Puts the values where the fields stand, as they are: mail copy is text, not an address. */
export const mergeMail = (text: string, values: MailValues): string =>
  text.replace(/\{(\w+)\}/g, (field, name: string) =>
    Object.hasOwn(values, name) ? values[name as keyof MailValues] : field,
  );

const merged = (label: string, most: number): Joi.StringSchema =>
  Joi.string().max(most).custom(refusedWhen<string>(mailTextProblem)).required().label(label);

export const mailCopySchema: Joi.ObjectSchema<MailCopy> = Joi.object<MailCopy>({
  name: line('Name', 80).required(),
  subject: merged('Subject', 200).trim(),
  text: merged('Text', 20_000).custom(
    refusedWhen<string>((text) =>
      text.includes('{link}')
        ? undefined
        : 'The text has no {link}: that is where each partner’s own link comes to stand.',
    ),
  ),
  offerId: id('Offer').required(),
  to: Joi.string().trim().max(2000).allow('').default('').label('Page'),
});
