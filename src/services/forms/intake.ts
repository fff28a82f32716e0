import type { MikroORM } from '@mikro-orm/postgresql';
import { ADDRESS_WINDOW, FROM_ONE_ADDRESS } from '@/core/form/limits';
import { insertSubmissions, publicForms, type NewSubmission, type PublicFormRow } from '@/db/forms/public';
import { acrossWorkspaces } from '@/db/kit/scope';
import { Batcher, togetherElseEach } from '@/services/kit/batcher';
import type { Context } from '@/services/kit/context';

/**
 * What comes by forms, some milliseconds at a time: hundreds a second share one question and one commit. Whoever sent
 * one waits for that commit, so that what was answered is kept whatever dies after it.
 */
interface Intake {
  form(code: string): Promise<PublicFormRow | null>;
  /** False: more came from their address than is believed. */
  keep(submission: NewSubmission): Promise<boolean>;
}

const TOGETHER = { most: 200, waitMs: 4 };

const intakes = new WeakMap<MikroORM, Intake>();

export function intakeOf({ orm }: Pick<Context, 'orm'>): Intake {
  const known = intakes.get(orm);
  if (known) return known;
  const reading = new Batcher<string, PublicFormRow | null>((codes) => read(orm, codes), TOGETHER);
  const keeping = new Batcher<NewSubmission, boolean | Error>((rows) => keepAll(orm, rows), TOGETHER);
  const intake: Intake = {
    form: (code) => reading.add(code),
    async keep(submission) {
      const kept = await keeping.add(submission);
      if (kept instanceof Error) throw kept;
      return kept;
    },
  };
  intakes.set(orm, intake);
  return intake;
}

async function read(orm: MikroORM, codes: string[]): Promise<(PublicFormRow | null)[]> {
  const rows = await acrossWorkspaces(orm, (crossing) => publicForms(crossing, [...new Set(codes)]));
  const byCode = new Map(rows.map((row) => [row.code, row]));
  return codes.map((code) => byCode.get(code) ?? null);
}

function keepAll(orm: MikroORM, rows: readonly NewSubmission[]): Promise<(boolean | Error)[]> {
  const at = Math.max(...rows.map((row) => row.at.getTime()));
  const limit = { most: FROM_ONE_ADDRESS, since: new Date(at - ADDRESS_WINDOW) };
  return togetherElseEach(rows, async (some) => {
    const kept = await acrossWorkspaces(orm, (crossing) => insertSubmissions(crossing, some, limit));
    return some.map(({ id }) => kept.has(id));
  });
}
