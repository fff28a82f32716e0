import { HOUSE } from '@/core/delivery/carrier-profile';
import type { Registration, SenderKind } from '@/core/clearance/sender';
import { USUAL_SETTINGS, type WordingSettings } from '@/core/wording/settings';
import type { Role } from '@/core/access/roles';
import { Account, Membership, Workspace } from '@/db/access/entities';
import { bookCredits } from '@/db/credits/ledger';
import { SenderNumberRow } from '@/db/numbers/entities';
import { acrossWorkspaces, type Crossing, type Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { hashPassword } from './password';

export interface NewWorkspace {
  slug: string;
  name: string;
  business: string;
  contact: string;
  zone: string;
  /** Two letters; left out: US. */
  country?: string;
  weeklyCap: number | null;
  credits: number;
  /** How its wordings are checked; left out: as is usual. */
  wording?: WordingSettings;
}

export const createWorkspace = (ctx: Context, input: NewWorkspace): Promise<Workspace> =>
  acrossWorkspaces(ctx.orm, (crossing) => insertWorkspace(ctx, crossing, input));

/** The same, within a transaction that does more. */
export async function insertWorkspace(
  ctx: Context,
  crossing: Crossing,
  input: NewWorkspace,
): Promise<Workspace> {
  const at = new Date(ctx.now());
  const { credits, country = 'US', wording = USUAL_SETTINGS, ...fields } = input;
  const id = ctx.id('wsp');
  const workspace = crossing.em.create(Workspace, {
    id,
    ...fields,
    country,
    wording,
    creditsPerPart: 1,
    creditsPerPicture: 3,
    creditBalance: 0,
    ...{
      prices: [],
      dailyCredits: null,
      enoughUntil: null,
      creditsAhead: null,
      lowToldAt: null,
      restsUnwell: true,
      numbersAt: at,
      creditsAt: at,
      putAwayAfter: '',
      putAwayAt: at,
    },
    ...{
      rules: null,
      asksNearMisses: false,
      ownersNeedFactor: false,
      ...{ termsUrl: null, privacyUrl: null, linkBase: null },
      stamp: 0,
      ...{ callSeconds: 240, mayBeBusy: 0.05, replyMinutes: 60, replyRule: null },
    },
    createdAt: at,
  });
  await crossing.em.persistAndFlush(workspace);
  await bookCredits(crossing.within(id), { kind: 'opening', delta: credits, reason: 'opening balance' }, at);
  await crossing.em.refresh(workspace);
  return workspace;
}

export interface NewAccount {
  email: string;
  name: string;
  password: string;
  role: Role;
}

/** An account with a role in a workspace. An address that is known already gets the role in addition. */
export async function addAccount(ctx: Context, workspaceId: string, input: NewAccount): Promise<string> {
  const passwordHash = await hashPassword(input.password);
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const known = await crossing.em.findOne(Account, { email: input.email });
    const accountId = known?.id ?? (await insertAccount(ctx, crossing, { ...input, passwordHash }));
    await insertMembership(crossing, workspaceId, accountId, input.role);
    return accountId;
  });
}

export async function insertAccount(
  ctx: Context,
  { em }: Pick<Crossing, 'em'>,
  { email, name, passwordHash }: Pick<Account, 'email' | 'name' | 'passwordHash'>,
): Promise<string> {
  const id = ctx.id('acc');
  await em.persistAndFlush(
    em.create(Account, { id, email, name, passwordHash, createdAt: new Date(ctx.now()) }),
  );
  return id;
}

export async function insertMembership(
  { em }: Pick<Crossing, 'em'>,
  workspaceId: string,
  accountId: string,
  role: Role,
): Promise<void> {
  em.setFilterParams('workspace', { workspaceId });
  await em.persistAndFlush(
    em.create(Membership, {
      workspaceId,
      accountId,
      role,
      mailTasks: false,
      mailInquiries: true,
      textInquiries: false,
      mailThreads: false,
      textThreads: false,
      takesCalls: false,
      duty: [],
      calendarHash: null,
      sendsCalendarHash: null,
    }),
  );
}

export interface NewSender {
  number: string;
  kind: SenderKind;
  registration: Registration;
  registrationNote?: string;
  /** It sends and takes picture messages. */
  mms?: boolean;
  partsPerSecond: number;
  dailyCap?: number;
  /** Left out: the installation's. */
  carrierId?: string;
}

export async function addSenderNumber(
  ctx: Context,
  scope: Scope,
  input: NewSender,
): Promise<SenderNumberRow> {
  const at = new Date(ctx.now());
  const sender = scope.em.create(SenderNumberRow, {
    id: ctx.id('snd'),
    workspaceId: scope.workspaceId,
    number: input.number,
    kind: input.kind,
    sms: true,
    mms: input.mms ?? false,
    voice: input.kind !== 'short-code',
    registration: input.registration,
    registrationNote: input.registrationNote ?? null,
    partsPerSecond: input.partsPerSecond,
    dailyCap: input.dailyCap ?? null,
    carrierId: input.carrierId ?? HOUSE,
    ...{ providerId: null, monthlyCredits: null, monthAt: null },
    ...{
      restedAt: null,
      restUntil: null,
      restWhy: null,
      restedBy: null,
      backAt: null,
      usualADay: null,
      rests: 0,
    },
    nextFreeAt: at,
    throttledInARow: 0,
    releasedAt: null,
    createdAt: at,
  });
  await scope.em.persistAndFlush(sender);
  return sender;
}
