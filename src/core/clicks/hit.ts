import Joi from 'joi';
import { isUlid } from './ulid';
import { refusedWhen } from '../schema/fields';

/** A landing as the page tag reports it: one without a redirect, or who came with the click of one. */
export interface LandingReport {
  /** The click ID that the tag drew, and keeps on the merchant's site. */
  readonly id: string;
  /** Code or alias of the link; absent where the click was recorded by a redirect. */
  readonly ref?: string;
  /** The page, with its query: it carries the link's values. */
  readonly page: string;
  /** Whom the tag knows the browser by, on the merchant's own site. */
  readonly visitor?: string;
  readonly referrer: string;
}

export const landingReportSchema: Joi.ObjectSchema<LandingReport> = Joi.object<LandingReport>({
  id: Joi.string()
    .custom(refusedWhen<string>((id) => (isUlid(id) ? undefined : `"${id.slice(0, 40)}" is not a click ID.`)))
    .required()
    .label('id'),
  ref: Joi.string().max(40).label('ref'),
  visitor: Joi.string()
    .custom(refusedWhen<string>((id) => (isUlid(id) ? undefined : 'The visitor is not one that the tag drew.')))
    .label('visitor'),
  page: Joi.string()
    .max(4000)
    .custom(
      refusedWhen<string>((page) =>
        /^https?:\/\//i.test(page) && URL.canParse(page) ? undefined : 'The page is not a web address.',
      ),
    )
    .when('ref', { is: Joi.exist(), then: Joi.required(), otherwise: Joi.optional().default('') })
    .label('page'),
  referrer: Joi.string().max(4000).allow('').default('').label('referrer'),
}).or('ref', 'visitor');
