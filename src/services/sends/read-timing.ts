import { everOpens, firstLocal, isLocal, meet, type Pace, type Timing } from '@/core/broadcast/timing';
import { parseInstant, toIso, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import type { Program } from '@/db/programs/entities';
import { ProgramSender } from '@/db/programs/entities';
import type { Scope } from '@/db/kit/scope';
import { zonesOfMembers } from '@/db/sends/broadcasts';
import { chooseSenders, hoursOf } from '@/services/programs/create-program';
import { invalid, type Refusal } from '@/services/kit/validation';
import type { PaceInput, TimingInput } from './inputs';

/** When and from where a draft would leave, read from what was asked. The hour of each is chosen when it is sent. */
export async function readTiming(
  scope: Scope,
  program: Program,
  { hours = null, pace = null, sender_numbers: wanted }: TimingInput,
): Promise<Result<Timing, Refusal>> {
  const own = hoursOf(hours);
  if (!own.ok) return own;
  const both = meet(program.ownHours, own.value);
  if (both && !everOpens(both))
    return invalid(
      'hours',
      'hours: never meet the sending hours of the program. Choose others, or change the program’s.',
    );
  const read = pace === null ? ok(null) : readPace(pace);
  if (!read.ok) return read;
  const senders = wanted && wanted.length > 0 ? await ofProgram(scope, program, wanted) : ok(null);
  if (!senders.ok) return senders;
  return ok({ local: null, hours: own.value, pace: read.value, senders: senders.value });
}

export function readPace({
  people,
  per,
  until,
  every_minutes: every,
  phones,
  hands,
  adapt,
}: PaceInput): Result<Pace, Refusal> {
  const named = [per, until, every, phones || undefined, hands || undefined].filter(
    (one) => one !== undefined,
  ).length;
  if (named > 1)
    return invalid(
      'pace',
      'pace: name one of until, phones, hands, people and per, or people and every_minutes.',
    );
  if (phones) return ok({ phones: true });
  if (adapt && !hands)
    return invalid('pace', 'pace.adapt: words are changed by who presses them: it belongs to hands.');
  if (hands) return ok({ hands: true, ...(adapt ? { adapt: true as const } : {}) });
  if (until !== undefined)
    return people === undefined
      ? ok({ until: parseInstant(until)! })
      : invalid('pace', 'pace: name either until, or people and per.');
  if (people !== undefined && every !== undefined) return ok({ people, every });
  return people !== undefined && per !== undefined
    ? ok({ people, per })
    : invalid('pace', 'pace: say how many people per minute or hour, or until when.');
}

async function ofProgram(
  scope: Scope,
  program: Program,
  wanted: string[],
): Promise<Result<string[], Refusal>> {
  const chosen = await chooseSenders(scope, wanted);
  if (!chosen.ok) return chosen;
  const pool = await scope.em.find(ProgramSender, { programId: program.id });
  const stray = chosen.value.find(({ id }) => !pool.some(({ senderId }) => senderId === id));
  return stray
    ? invalid(
        'sender_numbers',
        `sender_numbers: ${stray.number} does not belong to the program. Add it there, or choose another.`,
      )
    : ok(chosen.value.map(({ id }) => id));
}

/** What the clock shall show where each of them lives, and the instant at which the first of them is reached. */
export async function readLocal(
  scope: Scope,
  programId: string,
  local: string,
): Promise<Result<{ local: string; at: Millis }, Refusal>> {
  if (!isLocal(local))
    return invalid('local', 'local: must be a day and a time of day, such as 2026-12-05T10:00.');
  return ok({ local, at: firstLocal(local, await zonesOfMembers(scope, programId)) });
}

/** A pace that ends before it begins would let everybody go at once. */
export const paceEnds = ({ pace }: Timing, at: Millis): Result<null, Refusal> =>
  pace && 'until' in pace && pace.until <= at
    ? invalid('pace', `pace: until ${toIso(pace.until)} lies before it begins. Choose a later time.`)
    : ok(null);
