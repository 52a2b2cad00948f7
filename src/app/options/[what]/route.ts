import type { Actor } from '@/services/actor';
import { findChannels } from '@/services/channels';
import { listOffers } from '@/services/offers';
import { listGroups, listPartners } from '@/services/partners';
import { Refusal } from '@/services/refusal';
import { wholeNumber } from '@/services/scope';
import type { Option } from '@/ui/form/Picker';
import { currentActor, stores } from '../../server';

const SHOWN = 30;
const FIRST = { limit: SHOWN, offset: 0 };

const fits = (text: string, name: string): boolean => name.toLowerCase().includes(text.toLowerCase());

function options(actor: Actor, what: string, query: URLSearchParams): Option[] | undefined {
  const text = (query.get('q') ?? '').trim();
  const partnerId = wholeNumber(query.get('partner') ?? undefined);
  if (what === 'partners')
    return listPartners(stores(), actor, { text, state: query.has('active') ? 'active' : null, ...FIRST }).rows.map(
      ({ id, name, code }) => ({ id, label: name, about: code }),
    );
  if (what === 'channels')
    return findChannels(stores(), actor, { partnerId, text }, FIRST).rows.map(
      ({ id, name, code, partnerId: partnerId_, partnerName, partnerCode, sourceId }) => ({
        ...{ id, label: name, about: partnerId === null ? `${code} · ${partnerName}` : code, code },
        partner: { id: partnerId_, label: partnerName, about: partnerCode },
        ...(sourceId !== null && { sourceId }),
      }),
    );
  if (what === 'offers')
    return listOffers(stores(), actor)
      .filter(({ name, code }) => fits(text, `${name} ${code}`))
      .slice(0, SHOWN)
      .map(({ id, name, code }) => ({ id, label: name, about: code }));
  if (what === 'groups')
    return listGroups(stores(), actor)
      .filter(({ name }) => fits(text, name))
      .slice(0, SHOWN)
      .map(({ id, name, partners }) => ({ id, label: name, about: `${partners} partners` }));
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
