import Joi from 'joi';
import { type CallTerms, callTermsSchema } from '../calls/terms';
import { type Hold } from '../commissions/hold';
import { REPEAT_POLICIES, type RepeatPolicy } from '../conversions/repeat';
import { flag, line, oneOf } from '../schema/fields';

export const EVENT_KINDS = ['order', 'booking', 'renewal', 'lead', 'sign-up', 'install', 'call', 'other'] as const;
export type EventKind = (typeof EVENT_KINDS)[number];
export const FIELD_TYPES = ['text', 'number', 'day'] as const;
/** Who approves when the hold is over: as the offer says, nobody needs to, or somebody has to. */
export const APPROVALS = { offer: 'as the offer says', self: 'approved by itself', person: 'by a person' } as const;

/** A field of the merchant's own that comes with an event, and how it is shown. */
export interface CustomField {
  readonly name: string;
  readonly type: (typeof FIELD_TYPES)[number];
  readonly label: string;
}

export interface OfferEvent {
  event: string;
  repeat: RepeatPolicy;
  /** False: recorded and shown, never paid. */
  payable: boolean;
  /** Taken from the page tag and the pixel as well, which anybody who sees the page could imitate. */
  byTag?: boolean;
  /** As people call it; empty for its own name. */
  name?: string;
  kind?: EventKind;
  /** In place of the offer's. */
  hold?: Hold;
  approval?: keyof typeof APPROVALS;
  fields?: readonly CustomField[];
  /** Of a call: when it counts. */
  call?: CallTerms;
}

export const holdSchema: Joi.ObjectSchema<Hold> = Joi.object<Hold>({
  kind: oneOf('Kind of hold', 'days', 'month').required(),
  days: Joi.number().integer().min(0).max(365).required().label('Days of hold'),
  from: oneOf('Start of hold', 'event', 'completed').required(),
});

const customField = Joi.object<CustomField>({
  name: Joi.string()
    .trim()
    .lowercase()
    .pattern(/^x_[a-z0-9_]{1,40}$/, 'a name like x_supplier: it begins with x_')
    .required()
    .label('Name of the field'),
  type: oneOf('Type of the field', ...FIELD_TYPES).required(),
  label: line('Label of the field', 40).required(),
});

export const offerEventSchema: Joi.ObjectSchema<OfferEvent> = Joi.object<OfferEvent>({
  event: Joi.string()
    .trim()
    .lowercase()
    .pattern(/^[a-z][a-z0-9_-]{1,29}$/, '2 to 30 lower-case letters, digits, "-" or "_"')
    .required()
    .label('Event'),
  repeat: oneOf('Repeats', ...REPEAT_POLICIES).required(),
  payable: flag('Payable').required(),
  byTag: flag('By the page tag').default(false),
  name: Joi.string().trim().max(60).allow('').label('Name of the event'),
  kind: oneOf('Kind of event', ...EVENT_KINDS),
  hold: holdSchema.label('Hold of the event'),
  approval: oneOf('Approval', ...(Object.keys(APPROVALS) as (keyof typeof APPROVALS)[])),
  fields: Joi.array().items(customField).max(20).unique('name').label('Fields'),
  call: callTermsSchema.label('Calls'),
});
