import Joi from 'joi';
import { isUlid } from './ulid';
import { refusedWhen } from '../schema/fields';

/** A landing without a redirect, as the page tag reports it. */
export interface LandingReport {
  /** The click ID that the tag drew, and keeps on the merchant's site. */
  readonly id: string;
  /** Code or alias of the link. */
  readonly ref: string;
  /** The page, with its query: it carries the link's values. */
  readonly page: string;
  readonly referrer: string;
}

export const landingReportSchema: Joi.ObjectSchema<LandingReport> = Joi.object<LandingReport>({
  id: Joi.string()
    .custom(refusedWhen<string>((id) => (isUlid(id) ? undefined : `"${id.slice(0, 40)}" is not a click ID.`)))
    .required()
    .label('id'),
  ref: Joi.string().max(40).required().label('ref'),
  page: Joi.string()
    .max(4000)
    .custom(
      refusedWhen<string>((page) =>
        /^https?:\/\//i.test(page) && URL.canParse(page) ? undefined : 'The page is not a web address.',
      ),
    )
    .required()
    .label('page'),
  referrer: Joi.string().max(4000).allow('').default('').label('referrer'),
});
