import { readFilledIn, shownFields, type Problems, type ShownField, type Typed } from '@/core/form/read';
import { showOwnValue } from '@/core/people/values';
import { makeCode } from '@/core/link/shorten';
import { DAY } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import { writeHappenings } from '@/db/kit/happenings';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { linkByCode, noteLinkOpened } from '@/db/questions/links';
import { Asking, PersonalLink } from '@/db/questions/entities';
import { ownFields } from '@/services/audience/own-fields';
import { writeAudit } from '@/services/kit/audit';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { isKnown } from './begin';
import { keepValues } from './keep';
import { readingAt } from './reading';

/** Sixteen letters and digits, 80 bits: nobody finds somebody else's. */
const CODE_LENGTH = 16;

interface Making {
  personId: string;
  fields: readonly string[];
  askingId: string | null;
  madeBy: string | null;
  expires: Date;
}

/** A link of somebody's own; gives its address. */
export async function makeLink(ctx: Context, scope: Scope, making: Making): Promise<string> {
  const code = makeCode(ctx.bytes(CODE_LENGTH), CODE_LENGTH);
  await scope.em.persistAndFlush(
    scope.em.create(PersonalLink, {
      ...{ id: ctx.id('plk'), workspaceId: scope.workspaceId, personId: making.personId, code },
      ...{ fields: [...making.fields], askingId: making.askingId, madeBy: making.madeBy },
      ...{ madeAt: new Date(ctx.now()), expiresAt: making.expires },
    }),
  );
  return `${publicUrl()}/p/${code}`;
}

export const linkText = (business: string, missing: number, link: string): string =>
  `${business}: ${missing === 1 ? 'one thing is' : `${missing} things are`} left to complete your sign-up. It takes a moment: ${link}`;

/** Made by a teammate, to send on: it asks for what is not known of somebody. */
export async function linkByHand(
  ctx: Context,
  scope: Scope,
  personId: string,
  { fields, days = 14 }: { fields?: string[]; days?: number },
  actor: Actor,
): Promise<Result<{ link: string; expires: Date; fields: string[] }, Refusal>> {
  const person = await scope.em.findOne(Person, { id: personId, mergedInto: null, erasedAt: null });
  if (!person) return notFound('person');
  const own = await ownFields(scope);
  const all = ['name', 'email', 'postal_code', ...own.map(({ key }) => `own.${key}`)];
  const wanted = fields ?? all.filter((field) => !isKnown(person, field));
  const wrong = wanted.find((field) => !all.includes(field));
  if (wrong !== undefined) return invalid('fields', `fields: there is no field “${wrong}” to ask for.`);
  if (wanted.length === 0) return invalid('fields', 'fields: everything is known of them already.');
  const expires = new Date(ctx.now() + days * DAY);
  const link = await makeLink(ctx, scope, {
    ...{ personId, fields: wanted, askingId: null, madeBy: actor.accountId, expires },
  });
  await writeAudit(ctx, scope, actor.name, 'personal-link.made', personId, { fields: wanted });
  return ok({ link, expires, fields: wanted });
}

export interface PersonalPage {
  state: 'open' | 'finished' | 'expired';
  business: string;
  firstName: string | null;
  fields: ShownField[];
}

/** What a personal link shows: whom it is for by first name only, and what is asked. Null: there is none. */
export async function readPersonalPage(ctx: Context, code: string): Promise<PersonalPage | null> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const found = await linkByCode(crossing, code);
    if (!found) return null;
    const scope = crossing.within(found.workspace_id);
    const link = await scope.em.findOneOrFail(PersonalLink, { id: found.id });
    const person = await scope.em.findOneOrFail(Person, { id: link.personId });
    const { business } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
    return {
      ...{ state: stateOf(ctx, link, person), business, firstName: person.firstName },
      fields: await fieldsOf(scope, link),
    };
  });
}

function stateOf(ctx: Context, link: PersonalLink, person: Person): PersonalPage['state'] {
  if (link.finishedAt) return 'finished';
  return link.expiresAt.getTime() <= ctx.now() || person.erasedAt !== null ? 'expired' : 'open';
}

const fieldsOf = async (scope: Scope, { fields }: PersonalLink): Promise<ShownField[]> =>
  shownFields(
    fields.map((field) => ({ field, required: false })),
    await ownFields(scope),
  );

/** A browser drew the page, or somebody began to fill it in. */
export const noteLink = (ctx: Context, code: string, what: 'opened' | 'begun'): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) => noteLinkOpened(crossing, code, what, new Date(ctx.now())));

/** What a personal link answers to what was filled in. Null: there is none. */
export async function submitPersonalPage(
  ctx: Context,
  code: string,
  typed: Typed,
): Promise<{ state: PersonalPage['state']; problems: Problems } | null> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const found = await linkByCode(crossing, code, 'for update');
    if (!found) return null;
    const scope = crossing.within(found.workspace_id);
    const link = await scope.em.findOneOrFail(PersonalLink, { id: found.id }, { refresh: true });
    const person = await scope.em.findOneOrFail(Person, { id: link.personId });
    const state = stateOf(ctx, link, person);
    return state === 'open' ? keep(ctx, scope, link, typed) : { state, problems: {} };
  });
}

/** Keeps what somebody filled in, or nothing of it. Sent twice it is kept once; empty fields stay as they are. */
async function keep(ctx: Context, scope: Scope, link: PersonalLink, typed: Typed) {
  const fields = await fieldsOf(scope, link);
  const { country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const reading = { ...(await readingAt(scope, ctx.now())), country };
  const { filled, problems } = readFilledIn(fields, typed, reading);
  if (Object.keys(problems).length > 0) return { state: 'open' as const, problems };
  const values = filled.values.map(([field, value]) => [field, showOwnValue(value)] as const);
  if (values.length === 0) return { state: 'open' as const, problems: { '': 'nothing' } as Problems };
  const kept = await keepValues(ctx, scope, link.personId, values, 'their personal link');
  if (!kept) return { state: 'open' as const, problems: { '': 'nothing' } as Problems };
  await finishLink(ctx, scope, link);
  return { state: 'finished' as const, problems: {} };
}

async function finishLink(ctx: Context, scope: Scope, link: PersonalLink): Promise<void> {
  const now = new Date(ctx.now());
  link.finishedAt = now;
  link.begunAt ??= now;
  link.openedAt ??= now;
  if (link.askingId !== null)
    await scope.em.nativeUpdate(
      Asking,
      { id: link.askingId, state: 'linked' },
      { state: 'finished', dueAt: null, settledAt: now },
    );
  await scope.em.flush();
  await writeHappenings(scope, [
    { kind: 'form.filled', personId: link.personId, subject: null, at: now, detail: { link: link.id } },
  ]);
  await announce(scope, false);
}
