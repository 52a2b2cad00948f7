import Joi from 'joi';
import { aliasField, labelsSchema, linkSchema } from '@/core/links/schema';
import { mailCopySchema } from '@/core/mail/merge';
import { oneOf } from '@/core/schema/fields';
import { changeDestinations, changeManySchema, checkPage, listDestinations } from '@/services/destinations';
import { beginJob, cancelJob, jobLines, readJob } from '@/services/jobs';
import { JOB_KINDS, type JobKind } from '@/services/jobs/job';
import { linksInputSchema } from '@/services/jobs/links';
import { fileInputSchema } from '@/services/jobs/people';
import {
  changeDestination,
  destinationHistory,
  giveAlias,
  issueLink,
  labelLink,
  listLinks,
  newDestinationSchema,
  readLink,
  setLinkState,
} from '@/services/links';
import {
  createMailCopy,
  issueForMail,
  listMailCopies,
  mergedMail,
  readMailCopy,
  removeMailCopy,
  updateMailCopy,
} from '@/services/mail_copy';
import { proofSchema, prove } from '@/services/proving';
import { standInLocations } from '@/services/standins';
import { type Operation, id, inScope, paging, pagingOf, rowsOf, scope, text } from './operation';

const job = (kind: JobKind, path: string, summary: string, input: Joi.ObjectSchema): Operation => ({
  method: 'POST',
  path,
  tag: 'Jobs',
  summary: `${summary}; without write: what would become of each line`,
  body: () => Joi.object({ write: Joi.boolean().default(false), input: input.required() }),
  created: true,
  run: ({ stores, actor, body }) => {
    const { write = false, input: given } = body as { write?: boolean; input: unknown };
    return beginJob(stores, actor, kind, given, write);
  },
});

/** Links, many at once, where they lead, mail copy. */
export const LINK_OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/links',
    tag: 'Links',
    summary: 'Links of a scope with what they brought',
    query: Joi.object({ ...paging, ...scope, text }),
    run: (call) => listLinks(call.stores, call.actor, inScope(call), pagingOf(call), String(call.query.text)),
  },
  {
    method: 'POST',
    path: '/links',
    tag: 'Links',
    summary: 'Issue a link',
    body: () => linkSchema,
    created: true,
    run: ({ stores, actor, body }) => issueLink(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/links/{id}',
    tag: 'Links',
    summary: 'One link',
    run: (call) => readLink(call.stores, call.actor, id(call)),
  },
  {
    method: 'POST',
    path: '/links/{id}/pause',
    tag: 'Links',
    summary: 'Pause a link: visitors go to the fallback',
    run: (call) => setLinkState(call.stores, call.actor, id(call), 'paused'),
  },
  {
    method: 'POST',
    path: '/links/{id}/resume',
    tag: 'Links',
    summary: 'Resume a link',
    run: (call) => setLinkState(call.stores, call.actor, id(call), 'live'),
  },
  {
    method: 'POST',
    path: '/links/prove',
    tag: 'Links',
    summary: 'Prove a link without issuing it: address, findings, each step, what it would earn',
    body: () => proofSchema,
    run: ({ stores, actor, body }) => prove(stores, actor, body),
  },
  {
    method: 'POST',
    path: '/links/follow',
    tag: 'Links',
    summary: 'Follow a page over the network, redirect by redirect',
    body: () =>
      Joi.object({
        address: Joi.string()
          .uri({ scheme: ['http', 'https'] })
          .max(4000)
          .required(),
      }),
    run: ({ stores, actor, body }) =>
      checkPage(stores, actor, (body as { address: string }).address, {
        locationOf: standInLocations(process.env.BRIVET_STANDIN_HOSTS),
      }),
  },
  {
    method: 'POST',
    path: '/links/{id}/alias',
    tag: 'Links',
    summary: 'Give a readable alias, for good',
    body: () => Joi.object({ alias: aliasField.disallow('').required() }),
    run: (call) => giveAlias(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'PUT',
    path: '/links/{id}/labels',
    tag: 'Links',
    summary: 'Change the labels',
    body: () => labelsSchema,
    run: (call) => labelLink(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'PUT',
    path: '/links/{id}/destination',
    tag: 'Links',
    summary: 'Lead it elsewhere; links already out follow',
    body: () => newDestinationSchema,
    run: (call) => changeDestination(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'GET',
    path: '/links/{id}/destinations',
    tag: 'Links',
    summary: 'Where it has led, newest first',
    run: (call) => rowsOf(destinationHistory(call.stores, call.actor, id(call))),
  },
  {
    method: 'GET',
    path: '/destinations',
    tag: 'Links',
    summary: 'Pages links lead to, with how they answer',
    query: Joi.object({ ...paging, text, failing: Joi.boolean().default(false) }),
    run: (call) =>
      listDestinations(
        call.stores,
        call.actor,
        { text: String(call.query.text), failing: call.query.failing === true },
        pagingOf(call),
      ),
  },
  {
    method: 'POST',
    path: '/destinations/change',
    tag: 'Links',
    summary: 'Lead all links of a page elsewhere',
    body: () => changeManySchema,
    run: ({ stores, actor, body }) => changeDestinations(stores, actor, body),
  },
  job('links', '/links/many', 'Issue many links', linksInputSchema),
  job('partners', '/partners/import', 'Import partners from CSV', fileInputSchema),
  job('channels', '/channels/import', 'Import channels from CSV', fileInputSchema),
  {
    method: 'GET',
    path: '/jobs/{job}',
    tag: 'Jobs',
    summary: `How far work on many lines is (${JOB_KINDS.join(', ')})`,
    run: ({ actor, text: job }) => readJob(actor, job),
  },
  {
    method: 'GET',
    path: '/jobs/{job}/lines',
    tag: 'Jobs',
    summary: 'What becomes of each line',
    query: Joi.object({ ...paging, outcome: oneOf('outcome', 'new', 'same', 'changed', 'refused') }),
    run: (call) =>
      jobLines(call.actor, call.text, {
        ...pagingOf(call),
        ...(call.query.outcome !== undefined && { outcome: String(call.query.outcome) }),
      }),
  },
  {
    method: 'DELETE',
    path: '/jobs/{job}',
    tag: 'Jobs',
    summary: 'Cancel: what it had begun to write is taken back whole',
    run: ({ actor, text: job }) => cancelJob(actor, job),
  },
  {
    method: 'GET',
    path: '/mail-copies',
    tag: 'Mail copy',
    summary: 'Mail copy',
    run: ({ stores, actor }) => rowsOf(listMailCopies(stores, actor)),
  },
  {
    method: 'POST',
    path: '/mail-copies',
    tag: 'Mail copy',
    summary: 'Keep a text with merge fields',
    body: () => mailCopySchema,
    created: true,
    run: ({ stores, actor, body }) => createMailCopy(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/mail-copies/{id}',
    tag: 'Mail copy',
    summary: 'One text',
    run: (call) => readMailCopy(call.stores, call.actor, id(call)),
  },
  {
    method: 'PUT',
    path: '/mail-copies/{id}',
    tag: 'Mail copy',
    summary: 'Change it',
    body: () => mailCopySchema,
    run: (call) => updateMailCopy(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'DELETE',
    path: '/mail-copies/{id}',
    tag: 'Mail copy',
    summary: 'Delete it; links issued for it stay',
    run: (call) => (removeMailCopy(call.stores, call.actor, id(call)), { removed: true }),
  },
  {
    method: 'GET',
    path: '/mail-copies/{id}/merged',
    tag: 'Mail copy',
    summary: 'Every partner’s copy with the partner’s own link',
    run: (call) => rowsOf(mergedMail(call.stores, call.actor, readMailCopy(call.stores, call.actor, id(call)))),
  },
  {
    method: 'POST',
    path: '/mail-copies/{id}/issue',
    tag: 'Mail copy',
    summary: 'Issue the links that are missing',
    run: (call) => ({ issued: issueForMail(call.stores, call.actor, id(call)) }),
  },
];
