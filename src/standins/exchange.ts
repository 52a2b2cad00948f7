import { type Asked, type Said, escape, field, page as pageOf, send, told } from './web';

/** The telephone exchange, an outsider: it puts calls through and reports each once it is over. */
const LOOK = { name: 'Bellwire Exchange', ink: '#1E2433', paper: '#F3F5FA', main: '#2F4A7D' };
const calls: { words: string; answer: string }[] = [];
let counted = 0;
const KEPT = 50;
const PLACES = ['Breda', 'Utrecht', 'Zwolle', 'Ghent'];

export function exchange(note = ''): Said {
  const { numbers } = told();
  const rows = calls.map(({ words, answer }) => `<tr><td>${escape(words)}</td><td>${escape(answer)}</td></tr>`);
  const input = (label: string, name: string, value: string, more = ''): string =>
    `<p><label>${label}<br><input name="${name}" value="${escape(value)}" ${more}></label></p>`;
  return {
    html: pageOf(
      LOOK,
      'Place a call',
      `<h1>Place a call</h1>${note && `<p role="status">${escape(note)}</p>`}
<form method="post" action="/exchange" style="align-items:end">${input('Number that is dialled', 'number', numbers[0] ?? '+15550100', 'list="numbers" required')}
<datalist id="numbers">${numbers.map((number) => `<option value="${escape(number)}">`).join('')}</datalist>
${input('Caller; empty hides it', 'caller', '+15550142')}${input('Began, minutes ago', 'ago', '5', 'size="4" inputmode="numeric"')}
${input('Seconds it was talked for', 'length', '184', 'size="6" inputmode="numeric"')}
<p><label>Place<br><select name="place">${PLACES.map((place) => `<option>${place}</option>`).join('')}</select></label></p>
<p><label><input type="checkbox" name="answered" checked> answered</label></p><p><button>Call</button></p></form>
<h2>Calls</h2>${rows.length > 0 ? `<table><tbody>${rows.join('')}</tbody></table>` : '<p>None yet.</p>'}`,
    ),
  };
}

export async function call({ form }: Asked): Promise<Said> {
  const { callUrl, key } = told();
  counted += 1;
  const answered = form.has('answered');
  const fields = {
    ...{ call: `C${Date.now().toString(36).toUpperCase()}${counted}`, number: field(form, 'number') },
    ...{ caller: field(form, 'caller'), place: field(form, 'place'), answered: answered ? '1' : '0' },
    started: new Date(Date.now() - (Number(field(form, 'ago')) || 0) * 60_000).toISOString(),
    length: answered ? field(form, 'length') || '0' : '0',
  };
  const answer = await send(callUrl, { ...fields, key });
  const words = `${fields.call}: ${fields.number} from ${fields.caller || 'a hidden number'}, ${fields.length} s`;
  calls.unshift({ words, answer });
  calls.length = Math.min(calls.length, KEPT);
  return exchange(`${words}. The partner program answered: ${answer}`);
}
