import { isbot } from 'isbot';
import { deviceOf, robotSign } from '@/core/link/visit';
import { MINUTE, type Millis } from '@/core/shared/instant';
import { insertVisits, linksByCode, type LinkRow, type NewVisit } from '@/db/links/links';
import { announceAll } from '@/db/delivery/texts';
import { acrossWorkspaces, byKey } from '@/db/kit/scope';
import { Batcher } from '@/services/kit/batcher';
import type { Context } from '@/services/kit/context';

export interface Coming {
  code: string;
  /** What it says of itself. */
  agent: string;
  head: boolean;
  /** From where, by the number of the internet; it is kept for minutes, in memory. */
  from: string;
}

const BATCHED = { most: 500, waitMs: 2 };
const BATCHERS = new WeakMap<Context['orm'], Batcher<{ ctx: Context; coming: Coming }, string | null>>();

/**
 * Where a link leads; that somebody came is kept by then. Those who come in the same milliseconds share one commit, so
 * that hundreds a second are no more work than tens. Null: there is no such link.
 */
export function followLink(ctx: Context, coming: Coming): Promise<string | null> {
  let batcher = BATCHERS.get(ctx.orm);
  if (!batcher) BATCHERS.set(ctx.orm, (batcher = new Batcher((items) => followAll(items), BATCHED)));
  return batcher.add({ ctx, coming });
}

async function followAll(items: readonly { ctx: Context; coming: Coming }[]): Promise<(string | null)[]> {
  const { ctx } = items[0]!;
  const at = ctx.now();
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    await byKey(crossing);
    const codes = [...new Set(items.map(({ coming }) => coming.code))];
    const links = new Map((await linksByCode(crossing, codes)).map((link) => [link.code, link]));
    const visits = items.flatMap(({ coming }): NewVisit[] => {
      const link = links.get(coming.code);
      return link ? [visitOf(coming, link, at)] : [];
    });
    if (visits.length > 0) {
      await insertVisits(crossing, visits, new Date(at));
      await announceAll(
        crossing,
        visits.filter(({ robot }) => robot === null).map(({ link }) => link.workspace_id),
      );
    }
    return items.map(({ coming }) => links.get(coming.code)?.url ?? null);
  });
}

function visitOf({ agent, head, from }: Coming, link: LinkRow, at: Millis): NewVisit {
  const since = link.submitted_at === null ? null : at - link.submitted_at.getTime();
  const robot = robotSign({
    ...{ head, agent, since, knownRobot: isbot(agent), channel: link.channel },
    others: others.seen(from, link.person_id, at),
  });
  return { link, device: deviceOf(agent), robot };
}

/** Whose links were fetched from where, within some minutes. Nothing of it is written down. */
class FetchedFor {
  /** Those seen last stand last. */
  #by = new Map<string, { since: Millis; people: Set<string> }>();

  /** Notes it, and gives how many other people's were fetched from there. */
  seen(from: string, personId: string, at: Millis): number {
    const known = this.#by.get(from);
    const fresh = known && at - known.since < REMEMBERED ? known : { since: at, people: new Set<string>() };
    fresh.people.add(personId);
    this.#by.delete(from);
    this.#by.set(from, fresh);
    if (this.#by.size > MOST_PLACES) this.#by.delete(this.#by.keys().next().value!);
    return fresh.people.size - 1;
  }
}

const REMEMBERED: Millis = 10 * MINUTE;
/** Beyond, the one that came longest ago is forgotten: what it costs does not grow with who comes. */
const MOST_PLACES = 10_000;
const others = new FetchedFor();
