import type { SourcePreset } from './schema';

const source = (text: string) => ({ kind: 'source' as const, text });

/** The presets a program begins with. The sources are made up. */
export const SHIPPED_SOURCES: readonly SourcePreset[] = [
  {
    name: 'Quillsearch',
    paste:
      'Paste it as the final address of the ad. Quillsearch fills the placeholders on every click; leave its own tracking field empty.',
    tokens: [
      { token: '{{keyword}}', meaning: 'keyword', example: 'ash glaze', unique: false },
      { token: '{{match}}', meaning: 'match type', example: 'exact', unique: false },
      { token: '{{screen}}', meaning: 'device', example: 'phone', unique: false },
      { token: '{{adgroup}}', meaning: 'ad group', example: 'glaze-nl', unique: false },
      { token: '{{bid}}', meaning: 'cost', example: '0.42', unique: false },
      { token: '{{cid}}', meaning: 'click ID', example: 'q7r1x04k', unique: true },
    ],
    values: {
      sub1: { parameter: 'keyword', value: source('{{keyword}}') },
      sub2: {
        value: {
          kind: 'composite',
          separator: '~',
          parts: [
            { name: 'match', kind: 'source', text: '{{match}}' },
            { name: 'device', kind: 'source', text: '{{screen}}' },
          ],
        },
      },
      sub3: { parameter: 'adgroup', value: source('{{adgroup}}') },
      pcid: { value: source('{{cid}}') },
      cost: { value: source('{{bid}}') },
    },
    postback: 'https://in.quillsearch.example/conversion?cid={pcid}&value={amount}&currency={currency}&type={event}',
  },
  {
    name: 'Plazafeed',
    paste: 'Paste it as the website of the post. Plazafeed shows the address to people, so give it an alias.',
    tokens: [
      { token: '[POST]', meaning: 'post', example: 'p812', unique: false },
      { token: '[AUDIENCE]', meaning: 'audience', example: 'makers-25-44', unique: false },
      { token: '[PLACE]', meaning: 'placement', example: 'story', unique: false },
      { token: '[VISIT]', meaning: 'click ID', example: 'v-55120', unique: true },
    ],
    values: {
      sub1: { value: source('[POST]') },
      sub2: { value: source('[AUDIENCE]') },
      sub3: { value: source('[PLACE]') },
      pcid: { value: source('[VISIT]') },
    },
    postback: 'https://events.plazafeed.example/v2/done?visit={pcid}&amount={amount}&name={event}',
  },
  {
    name: 'Lanternpost',
    paste: 'Paste it behind the button of the issue. Lanternpost fills %%ISSUE%% and %%READER%% when the mail is sent.',
    tokens: [
      { token: '%%ISSUE%%', meaning: 'issue', example: '2026-44', unique: false },
      { token: '%%LIST%%', meaning: 'list', example: 'weekend', unique: false },
      { token: '%%READER%%', meaning: 'reader', example: 'r90233', unique: true },
    ],
    values: {
      sub1: { parameter: 'issue', value: source('%%ISSUE%%') },
      sub2: { parameter: 'list', value: source('%%LIST%%') },
      one1: { value: source('%%READER%%') },
    },
    postback: '',
  },
];
