import { CARRIED, CARRIED_WORDS, type Carried, ONE_OFF_SLOTS, SUB_SLOTS } from '../placeholders/names';
import { looksUnfilled } from '../placeholders/unfilled';
import type { SourcePreset, SourceToken } from '../sources/schema';
import type { Finding, LintInput } from './findings';
import { type SlotValue, fixedTexts, sourceTexts } from './values';

/** Everything that can be wrong with the values a link carries. */
export function lintValues(input: LintInput): Finding[] {
  return CARRIED.flatMap((slot) => {
    const value = input.values[slot];
    if (!value) return [];
    return [
      ...personalData(slot, value),
      ...reserved(slot, value),
      ...placeholders(input, slot, value),
      ...uniqueInGroup(input, slot, value),
      ...separatorInPart(slot, value),
    ];
  });
}

const isGrouped = (slot: Carried): boolean => SUB_SLOTS.some((each) => each === slot);
/** The same value with one of its texts replaced. */
const withText = (value: SlotValue, from: string, to: string): SlotValue => {
  if (value.kind === 'composite')
    return { ...value, parts: value.parts.map((part) => (part.text === from ? { ...part, text: to } : part)) };
  return value.kind === 'partner' ? value : { ...value, text: to };
};

/** RFC 5322 allows more; this is what people type. */
const EMAIL = /[\w.+-]+@[\w-]+(\.[\w-]+)+/;

function personalData(slot: Carried, value: SlotValue): Finding[] {
  const text = fixedTexts(value).find((each) => EMAIL.test(each));
  if (text === undefined) return [];
  const without = text.replace(new RegExp(EMAIL, 'g'), '').trim();
  return [
    {
      code: 'personal_data',
      severity: 'error',
      field: slot,
      reason: `${CARRIED_WORDS[slot]} holds an e-mail address. Links are copied and logged everywhere: carry a number that means the person to you alone.`,
      fix: {
        label: 'Take it out',
        change: { values: { [slot]: without === '' ? undefined : withText(value, text, without) } },
      },
    },
  ];
}

/** Signs with a meaning in addresses. They arrive, because we encode them; other programs on the way may not be so careful. */
const RESERVED = /[&?#=%+/\\"<>{}[\]|^`]/;

function reserved(slot: Carried, value: SlotValue): Finding[] {
  const text = fixedTexts(value).find((each) => RESERVED.test(each) && !looksUnfilled(each));
  if (text === undefined) return [];
  const signs = [...new Set(text.match(new RegExp(RESERVED, 'g')))].join(' ');
  const plain = text.replace(new RegExp(RESERVED, 'g'), '-').replace(/-{2,}/g, '-').replace(/^-|-$/g, '');
  return [
    {
      code: 'reserved_character',
      severity: 'warning',
      field: slot,
      reason: `${CARRIED_WORDS[slot]} holds ${signs}, which mean something in addresses. Encoded they arrive, but spreadsheets and other trackers often spoil them.`,
      ...(plain !== '' && {
        fix: { label: `Write ${plain}`, change: { values: { [slot]: withText(value, text, plain) } } },
      }),
    },
  ];
}

const tokenIn = (preset: SourcePreset, text: string): SourceToken | undefined =>
  preset.tokens.find(({ token }) => text.includes(token));

/** What is left of a text once a preset's placeholders are taken out. */
const withoutTokens = (preset: SourcePreset | undefined, text: string): string =>
  (preset?.tokens ?? []).reduce((left, { token }) => left.replaceAll(token, ''), text);

/** Placeholders that the chosen source will not fill. A fixed text that looks like one is no less a mistake. */
function placeholders({ source, sources }: LintInput, slot: Carried, value: SlotValue): Finding[] {
  const findings: Finding[] = [];
  const asSource = sourceTexts(value);
  for (const text of [...asSource, ...fixedTexts(value).filter(looksUnfilled)]) {
    const left = withoutTokens(source?.preset, text);
    const known = asSource.includes(text) && left !== text && !looksUnfilled(left);
    if (known || (asSource.includes(text) && !source && sources.length === 0)) continue;
    const other = sources.find(({ preset, id }) => id !== source?.id && tokenIn(preset, text));
    const theirs = other && tokenIn(other.preset, text);
    const same = theirs && source?.preset.tokens.find(({ meaning }) => meaning === theirs.meaning);
    if (other && theirs)
      findings.push({
        code: 'other_source',
        severity: source ? 'error' : 'warning',
        field: slot,
        reason: source
          ? `${theirs.token} is a placeholder of ${other.preset.name}; ${source.preset.name} sends it on as it stands.`
          : `${theirs.token} is a placeholder of ${other.preset.name}. Choose that source, so that the whole link is written for it.`,
        fix: same
          ? { label: `Write ${same.token}`, change: { values: { [slot]: { kind: 'source', text: same.token } } } }
          : { label: `Use ${other.preset.name}`, change: { sourceId: other.id } },
      });
    else if (left !== '' && (asSource.includes(text) ? looksUnfilled(left) || left === text : true))
      findings.push({
        code: 'unknown_placeholder',
        severity: 'warning',
        field: slot,
        reason: source
          ? `${text} is not among the placeholders of ${source.preset.name}: nobody would fill it.`
          : `${text} is not a placeholder of any source that is set up here: make sure that somebody fills it.`,
        fix:
          slot in (source?.preset.values ?? {})
            ? {
                label: `As ${source?.preset.name} has it`,
                change: { values: { [slot]: source?.preset.values[slot]?.value } },
              }
            : { label: 'Take it out', change: { values: { [slot]: undefined } } },
      });
  }
  return findings;
}

/** Texts of which there are as many as clicks: IDs, times, long random ones. */
const LOOKS_UNIQUE = [
  /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i,
  /^[0-9A-HJKMNP-TV-Z]{26}$/,
  /^[0-9a-f]{24,}$/i,
  /^1[5-9]\d{8}(\d{3})?$/,
  /^\d{4}-\d\d-\d\dT\d\d:?\d\d/,
];

function uniqueInGroup({ source, values }: LintInput, slot: Carried, value: SlotValue): Finding[] {
  if (!isGrouped(slot)) return [];
  const unique =
    sourceTexts(value).find((text) =>
      source?.preset.tokens.some(({ token, unique: each }) => each && text.includes(token)),
    ) ?? fixedTexts(value).find((text) => LOOKS_UNIQUE.some((form) => form.test(text)));
  if (unique === undefined) return [];
  const free = ONE_OFF_SLOTS.find((each) => values[each] === undefined);
  return [
    {
      code: 'unique_in_group',
      severity: 'warning',
      field: slot,
      reason: `${unique} is different on every click: as a sub-ID it makes a report line for each. One-off values are carried without being grouped.`,
      ...(free && {
        fix: {
          label: `Carry it as ${CARRIED_WORDS[free].toLowerCase()}`,
          change: { values: { [slot]: undefined, [free]: value } },
        },
      }),
    },
  ];
}

function separatorInPart(slot: Carried, value: SlotValue): Finding[] {
  if (value.kind !== 'composite') return [];
  const { separator } = value;
  const part = value.parts.find(({ text }, i) => i > 0 && text.includes(separator));
  if (!part) return [];
  const free = ['~', '_', '.', '-', '~~', '--'].find(
    (sign) => !value.parts.some(({ text }) => text.includes(sign)) && sign !== separator,
  );
  return [
    {
      code: 'separator_in_part',
      severity: 'warning',
      field: slot,
      reason: `The part ${part.name} contains the separator "${separator}", so reports could not split the value again.`,
      ...(free && {
        fix: { label: `Separate by ${free}`, change: { values: { [slot]: { ...value, separator: free } } } },
      }),
    },
  ];
}
