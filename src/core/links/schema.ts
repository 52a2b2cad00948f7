import Joi from 'joi';
import { VALUE_SLOTS, type ValueSlot } from '../placeholders/names';
import { id, oneOf, refusedWhen } from '../schema/fields';
import { type SlotValue, sourceTextProblem } from './parts';

export interface LinkFields {
  partnerId: number;
  channelId: number;
  offerId: number;
  slots: Partial<Record<ValueSlot, SlotValue>>;
  cost?: SlotValue;
  to: string;
}

const slotValue = (label: string): Joi.ObjectSchema<SlotValue> =>
  Joi.object<SlotValue>({
    kind: oneOf('Kind', 'fixed', 'source').required(),
    text: Joi.string()
      .max(300)
      .allow('')
      .required()
      .when('kind', { is: 'source', then: Joi.string().custom(refusedWhen<string>(sourceTextProblem)) })
      .label(label),
  }).label(label);

export const linkSchema: Joi.ObjectSchema<LinkFields> = Joi.object<LinkFields>({
  partnerId: id('Partner').required(),
  channelId: id('Channel').required(),
  offerId: id('Offer').required(),
  slots: Joi.object(Object.fromEntries(VALUE_SLOTS.map((slot) => [slot, slotValue(slot)])))
    .default({})
    .label('Sub-IDs'),
  cost: slotValue('cost'),
  to: Joi.string().trim().max(2000).allow('').default('').label('Deep link'),
});
