import { HOUSE, readProfile, type CarrierProfile } from '@/core/delivery/carrier-profile';
import { ok, refuse, type Result } from '@/core/shared/result';
import { CarrierRow } from '@/db/delivery/entities';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { checkCarrier, type CarrierCheck } from '@/gateways/smpp/check';
import { refusedHost } from '@/gateways/smpp/host';
import { optionsOf } from '@/services/delivery/carriers';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { carrierHosts } from '@/services/kit/settings';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { CarrierInput, ChangeCarrierInput } from './inputs';

export type { CarrierCheck } from '@/gateways/smpp/check';

/** Enters a carrier of the workspace's own. A worker connects to it within a second. */
export async function enterCarrier(
  ctx: Context,
  scope: Scope,
  input: CarrierInput,
  actor: string,
): Promise<Result<CarrierRow, Refusal>> {
  const name = await freeName(scope, input.name);
  if (!name.ok) return name;
  const host = refusedHost(input.host, carrierHosts());
  if (host) return invalid('host', `host: ${host}`);
  const profile = profileOf(input.profile ?? {});
  if (!profile.ok) return profile;
  const carrier = scope.em.create(CarrierRow, {
    ...{ id: ctx.id('car'), workspaceId: scope.workspaceId, name: name.value },
    ...{ host: input.host, port: input.port, systemId: input.system_id, password: input.password },
    ...{ profile: profile.value, createdAt: new Date(ctx.now()), removedAt: null },
  });
  await scope.em.persistAndFlush(carrier);
  await writeAudit(ctx, scope, actor, 'carrier.entered', carrier.id, {
    name: carrier.name,
    host: carrier.host,
  });
  return ok(carrier);
}

/** Changes what is given. Its links are made anew; what is under way has its outcome first. */
export async function changeCarrier(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeCarrierInput,
  actor: string,
): Promise<Result<CarrierRow, Refusal>> {
  const carrier = await findCarrier(scope, id);
  if (!carrier) return notFound('carrier');
  const name = input.name === undefined ? ok(carrier.name) : await freeName(scope, input.name, id);
  if (!name.ok) return name;
  const host = input.host === undefined ? null : refusedHost(input.host, carrierHosts());
  if (host) return invalid('host', `host: ${host}`);
  const profile = input.profile === undefined ? ok(carrier.profile) : profileOf(input.profile);
  if (!profile.ok) return profile;
  // Another host is another house: it must not be given the password of the one before.
  if (input.host !== undefined && input.host !== carrier.host && !input.password)
    return invalid('password', 'password: give the password of the new host too.');
  Object.assign(carrier, {
    ...{
      name: name.value,
      profile: profile.value,
      host: input.host ?? carrier.host,
      port: input.port ?? carrier.port,
    },
    ...{ systemId: input.system_id ?? carrier.systemId, password: input.password || carrier.password },
  });
  await scope.em.flush();
  const { password: _, ...told } = input;
  await writeAudit(ctx, scope, actor, 'carrier.changed', id, { ...told });
  return ok(carrier);
}

/** Takes a carrier away; refused while numbers belong to it. */
export async function removeCarrier(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<CarrierRow, Refusal>> {
  const carrier = await findCarrier(scope, id);
  if (!carrier) return notFound('carrier');
  const numbers = await scope.em.count(SenderNumberRow, { carrierId: id, releasedAt: null });
  if (numbers > 0)
    return conflict(
      'carrier',
      `carrier: ${numbers === 1 ? 'a number belongs' : `${numbers} numbers belong`} to it. Give ${numbers === 1 ? 'it' : 'them'} to another carrier first.`,
    );
  carrier.removedAt = new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'carrier.removed', id, { name: carrier.name });
  return ok(carrier);
}

/** What is needed to connect to a carrier; the connection itself is made outside of the transaction. */
export async function connectionOf(
  scope: Scope,
  id: string,
): Promise<Result<() => Promise<CarrierCheck>, Refusal>> {
  const carrier = await findCarrier(scope, id);
  if (!carrier) return notFound('carrier');
  const { workspaceId, systemId, ...row } = carrier;
  const options = optionsOf({ ...row, workspace_id: workspaceId, system_id: systemId });
  return ok(() => checkCarrier({ ...options, responseTimeoutMs: PATIENCE_MS }));
}

/** How long somebody who looks at the page waits for a carrier. */
const PATIENCE_MS = 8_000;

/** The carrier a number is to belong to: the installation's, or one of the workspace's own, by id or name. */
export async function carrierNamed(scope: Scope, named: string): Promise<Result<string, Refusal>> {
  if (named === HOUSE) return ok(HOUSE);
  const carrier = await scope.em.findOne(CarrierRow, {
    removedAt: null,
    $or: [{ id: named }, { name: named }],
  });
  return carrier ? ok(carrier.id) : invalid('carrier', `carrier: there is no carrier “${named}” here.`);
}

const findCarrier = (scope: Scope, id: string): Promise<CarrierRow | null> =>
  scope.em.findOne(CarrierRow, { id, removedAt: null });

async function freeName(scope: Scope, input: string, but?: string): Promise<Result<string, Refusal>> {
  const name = input.trim();
  if (name === '') return invalid('name', 'name: say what the carrier is called here.');
  const other = await scope.em.findOne(CarrierRow, { name, removedAt: null });
  return other && other.id !== but
    ? conflict('name', `name: there is a carrier “${name}” already.`)
    : ok(name);
}

function profileOf(input: Record<string, unknown>): Result<Partial<CarrierProfile>, Refusal> {
  const { problems } = readProfile(input);
  return problems.length > 0
    ? refuse({
        code: 'invalid',
        problems: problems.map(({ message }) => ({ field: 'profile', message: `profile: ${message}` })),
      })
    : ok(input as Partial<CarrierProfile>);
}
