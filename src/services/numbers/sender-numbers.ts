import type { SenderKind } from '@/core/clearance/sender';
import { HOUSE } from '@/core/delivery/carrier-profile';
import { NUMBER_WORDS, parseNumber } from '@/core/phone/number';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { forgetSender, numberIsTaken } from '@/db/numbers/numbers';
import { Registration } from '@/db/registration/entities';
import { ProgramSender } from '@/db/programs/entities';
import { addSenderNumber } from '@/services/access/create-workspace';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { programsNamed } from '@/services/programs/find-program';
import { carrierNamed } from './carriers';
import type { ChangeSenderInput, SenderNumberInput } from './inputs';

/** Parts a second that carriers usually take. */
const USUAL_PACE: Record<SenderKind, number> = { local: 1, 'toll-free': 3, 'short-code': 30 };

export const TAKEN =
  'number: another workspace of this installation writes from it. A number belongs to one business at a time.';

/** Enters a number that the carrier gave, or one that was given back. Texts that waited for it are read. */
export async function enterNumber(
  ctx: Context,
  scope: Scope,
  input: SenderNumberInput,
  actor: string,
): Promise<Result<SenderNumberRow, Refusal>> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const number = readNumber(input, workspace.country);
  if (!number.ok) return number;
  const programs = await programsNamed(scope, input.programs ?? []);
  if (!programs.ok) return programs;
  const carrier = await carrierNamed(scope, input.carrier ?? HOUSE);
  if (!carrier.ok) return carrier;
  const partsPerSecond = input.parts_per_second ?? USUAL_PACE[input.kind];
  const known = await scope.em.findOne(SenderNumberRow, { number: number.value });
  if (known && known.releasedAt === null) return conflict('number', 'number: it is entered already.');
  if (!known && (await numberIsTaken(scope, number.value))) return conflict('number', TAKEN);
  const sender =
    known ??
    (await addSenderNumber(ctx, scope, {
      ...{ number: number.value, kind: input.kind, registration: input.registration, partsPerSecond },
      ...(input.daily_cap ? { dailyCap: input.daily_cap } : {}),
      mms: input.mms ?? false,
      carrierId: carrier.value,
    }));
  if (known)
    Object.assign(known, {
      ...{ kind: input.kind, registration: input.registration, partsPerSecond, sms: true, releasedAt: null },
      ...{ rests: 0, usualADay: null },
      mms: input.mms ?? false,
      dailyCap: input.daily_cap ?? null,
      carrierId: carrier.value,
    });
  for (const programId of programs.value)
    scope.em.persist(
      scope.em.create(ProgramSender, { workspaceId: scope.workspaceId, programId, senderId: sender.id }),
    );
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'number.entered', sender.id, {
    number: sender.number,
    registration: sender.registration,
  });
  await announce(scope, true);
  return ok(sender);
}

function readNumber({ number, kind }: SenderNumberInput, country: string): Result<string, Refusal> {
  if (kind === 'short-code') {
    const digits = number.replace(/[\s-]/g, '');
    return /^\d{5,6}$/.test(digits)
      ? ok(digits)
      : invalid('number', 'number: a short code has five or six digits, such as 55501.');
  }
  const parsed = parseNumber(number, country);
  return parsed.ok ? ok(parsed.value) : invalid('number', NUMBER_WORDS[parsed.reason]);
}

/** Changes how far its registration is, and what the carrier takes from it. */
export async function changeNumber(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeSenderInput,
  actor: string,
): Promise<Result<SenderNumberRow, Refusal>> {
  const sender = await scope.em.findOne(SenderNumberRow, { id, releasedAt: null });
  if (!sender) return notFound('sender number');
  const carrier = await carrierNamed(scope, input.carrier ?? sender.carrierId);
  if (!carrier.ok) return carrier;
  if (input.registration !== undefined && input.registration !== sender.registration) {
    if (await scope.em.findOne(Registration, { about: 'number', subject: id, state: { $ne: 'draft' } }))
      return conflict(
        'registration',
        'registration: it is handed in to the registrar, who says how it stands. Take it back first.',
      );
  }
  sender.carrierId = carrier.value;
  if (input.registration !== undefined) sender.registration = input.registration;
  if (input.parts_per_second !== undefined) sender.partsPerSecond = input.parts_per_second;
  if (input.daily_cap !== undefined) sender.dailyCap = input.daily_cap;
  if (input.mms !== undefined) sender.mms = input.mms;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'number.changed', id, { ...input });
  await announce(scope, true);
  return ok(sender);
}

/**
 * Gives a number back: nothing leaves from it any more, and whoever was texted from it is texted from another of their
 * program. What people still write to it, a STOP above all, is heard as long as the carrier passes it on.
 */
export async function releaseNumber(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<SenderNumberRow, Refusal>> {
  const sender = await scope.em.findOne(SenderNumberRow, { id, releasedAt: null });
  if (!sender) return notFound('sender number');
  Object.assign(sender, { releasedAt: new Date(ctx.now()), sms: false, mms: false, registration: 'none' });
  Object.assign(sender, {
    monthAt: null,
    restedAt: null,
    restUntil: null,
    restWhy: null,
    restedBy: null,
    backAt: null,
  });
  await scope.em.flush();
  await forgetSender(scope, id);
  await writeAudit(ctx, scope, actor, 'number.released', id, { number: sender.number });
  await announce(scope, true);
  return ok(sender);
}
