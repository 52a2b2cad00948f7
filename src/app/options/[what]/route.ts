import type { Actor } from '@/services/actor';
import { listOffers } from '@/services/offers';
import { listChannels, listPartners } from '@/services/partners';
import { Refusal } from '@/services/refusal';
import { wholeNumber } from '@/services/scope';
import type { Option } from '@/ui/form/Picker';
import { currentActor, stores } from '../../server';

const SHOWN = 30;

interface Named {
  id: number;
  name: string;
  code: string;
}
const matching = (rows: readonly Named[], text: string): Option[] =>
  rows
    .filter(({ name, code }) => `${name} ${code}`.toLowerCase().includes(text.toLowerCase()))
    .slice(0, SHOWN)
    .map(({ id, name, code }) => ({ id, label: name, about: code }));

function options(actor: Actor, what: string, query: URLSearchParams): Option[] | undefined {
  const text = query.get('q') ?? '';
  if (what === 'partners')
    return matching(
      listPartners(stores(), actor, { text, limit: SHOWN, offset: 0, state: query.has('active') ? 'active' : null })
        .rows,
      text,
    );
  if (what === 'channels')
    return matching(listChannels(stores(), actor, wholeNumber(query.get('partner') ?? undefined) ?? undefined), text);
  if (what === 'offers') return matching(listOffers(stores(), actor), text);
  return undefined;
}

/** What a picker offers: searched here, a few at a time. */
export async function GET(request: Request, { params }: { params: Promise<{ what: string }> }): Promise<Response> {
  const actor = await currentActor();
  if (!actor) return Response.json([], { status: 401 });
  try {
    const found = options(actor, (await params).what, new URL(request.url).searchParams);
    return found ? Response.json(found) : Response.json([], { status: 404 });
  } catch (error) {
    if (error instanceof Refusal) return Response.json([], { status: 404 });
    throw error;
  }
}
