import { createHash } from 'node:crypto';
import type { MikroORM } from '@mikro-orm/postgresql';
import type { ArrivalFormat, Tree } from '@/core/inquiry/tree';
import { DAY, type Millis } from '@/core/shared/instant';
import { doorsOf, keepArrivals, type DoorRow, type NewArrival } from '@/db/inquiries/arrivals';
import { toJson } from '@/db/kit/json';
import { reading } from '@/db/kit/scope';
import { Batcher, togetherElseEach } from '@/services/kit/batcher';
import type { Context } from '@/services/kit/context';

/**
 * What comes through sources, some milliseconds at a time: hundreds a second share one question and one commit. Whoever
 * brought one waits for that commit, so that what was answered 202 is kept whatever dies after it. Everything else is the
 * worker's.
 */
interface Intake {
  door(key: string): Promise<DoorRow | null>;
  keep(arrival: NewArrival): Promise<void>;
}

/** Long enough that hundreds a second share a way to the database, far shorter than who asked would notice. */
const TOGETHER = { most: 200, waitMs: 8 };

const intakes = new WeakMap<MikroORM, Intake>();

function intakeOf({ orm, now }: Pick<Context, 'orm' | 'now'>): Intake {
  const known = intakes.get(orm);
  if (known) return known;
  const asking = new Batcher<string, DoorRow | null>((keys) => doors(orm, keys, now()), TOGETHER);
  const keeping = new Batcher<NewArrival, Error | null>((rows) => keepAll(orm, rows), TOGETHER);
  const intake: Intake = {
    door: (key) => asking.add(key),
    async keep(arrival) {
      const failed = await keeping.add(arrival);
      if (failed) throw failed;
    },
  };
  intakes.set(orm, intake);
  return intake;
}

async function doors(orm: MikroORM, keys: string[], now: Millis): Promise<(DoorRow | null)[]> {
  const rows = await doorsOf(reading(orm), [...new Set(keys)], new Date(now));
  const byKey = new Map(rows.map((row) => [row.named, row]));
  return keys.map((key) => byKey.get(key) ?? null);
}

const keepAll = (orm: MikroORM, rows: readonly NewArrival[]): Promise<(null | Error)[]> =>
  togetherElseEach(rows, async (some) => {
    await keepArrivals(orm, some);
    return some.map(() => null);
  });

/** The source behind a key; null: there is none. */
export const doorOf = (ctx: Context, key: string): Promise<DoorRow | null> => intakeOf(ctx).door(key);

export interface Came {
  format: ArrivalFormat;
  content: Tree;
  /** The id the sender gave this delivery, the same when it is sent again. Null: it is known by what it holds. */
  deliveryId: string | null;
  /** Nobody asked by it, and why: it is kept and shown, and nothing follows. */
  dropped?: string;
}

/** Keeps what came. Sent again, it is kept once: by the sender's id for ever, by its content within a day. */
export function keepArrival(
  ctx: Context,
  source: Pick<DoorRow, 'id' | 'workspace_id'>,
  came: Came,
): Promise<void> {
  const at = ctx.now();
  const day = Math.floor(at / DAY);
  const content = toJson(came.content);
  const digest = (salt: string) => createHash('sha256').update(`${salt} ${content}`).digest('base64url');
  return intakeOf(ctx).keep({
    ...{ id: ctx.id('arr'), workspaceId: source.workspace_id, sourceId: source.id },
    ...{ format: came.format, content: came.content, dropped: came.dropped ?? null },
    digest:
      came.deliveryId === null
        ? digest(String(day))
        : createHash('sha256').update(`id ${came.deliveryId}`).digest('base64url'),
    dayBefore: came.deliveryId === null ? digest(String(day - 1)) : null,
    at: new Date(at),
  });
}
