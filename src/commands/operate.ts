import { parseArgs } from 'node:util';
import type { Role } from '@/core/access/roles';
import { getOrm } from '@/db/kit/orm';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { markAllSumsDue, markOwnSumsDue } from '@/db/results/sums';
import { addCredits } from '@/services/access/change-workspace';
import { CreditsInput } from '@/services/access/inputs';
import { closeReader, openReader, readReaders } from '@/services/access/readers';
import { checkLedger } from '@/services/credits/screen';
import { workspaceBySlug } from '@/services/access/api-keys';
import { makeContext, type Context } from '@/services/context';
import { readInput, type Refusal } from '@/services/kit/validation';
import { SenderNumberInput } from '@/services/numbers/inputs';
import { enterNumber } from '@/services/numbers/sender-numbers';
import { NewWorkspaceInput } from '@/services/team/inputs';
import {
  dropFactorOf,
  giveAccount,
  giveWorkspace,
  listWorkspaces,
  resetPassword,
} from '@/services/team/operate';

const HELP = `npm run operate -- VERB ...

  list
  workspace  --business NAME --contact NUMBER-OR-EMAIL --zone America/Denver [--country US] [--credits 0] --email OWNER [--name "Their Name"]
  account    --workspace SLUG --email ADDRESS --name "Their Name" --role owner|manager|teammate|counter
  password   --email ADDRESS                 a new password; signs them out everywhere
  no-factor  --email ADDRESS                 takes the second factor off
  number     --workspace SLUG --number +1... --kind local|toll-free|short-code [--registration registered] [--pace PARTS-PER-SECOND]
  credits    --workspace SLUG --credits N --reason "bought in November"
  ledger     --workspace SLUG                whether its credits add up
  reader     --workspace SLUG                a role of the database that reads its views; see docs/formats/reading.md
  readers    --workspace SLUG
  no-reader  --workspace SLUG --name ROLE    takes it away
  sums       [--workspace SLUG]              counts the sums of results anew, month by month, while everything goes on`;

const { positionals, values } = read();
const option = (name: string): string => values[name] ?? '';

function read(): { positionals: string[]; values: Record<string, string | undefined> } {
  const names = [
    ...['workspace', 'business', 'contact', 'zone', 'country', 'credits', 'email', 'name', 'role', 'number'],
    ...['kind', 'registration', 'pace', 'reason'],
  ];
  try {
    return parseArgs({
      args: process.argv.slice(2),
      allowPositionals: true,
      options: Object.fromEntries(names.map((name) => [name, { type: 'string' as const }])),
    });
  } catch (error) {
    return fail(`${(error as Error).message}\n\n${HELP}`);
  }
}

function fail(message: string): never {
  console.error(message);
  process.exit(1);
}

const refused = ({ problems }: Refusal): never => fail(problems.map(({ message }) => message).join('\n'));

const given = (password: string | null): string =>
  password === null ? 'They keep the password they have.' : `Password, shown once: ${password}`;

const VERBS: Record<string, (ctx: Context) => Promise<string>> = {
  list: async (ctx) =>
    (await listWorkspaces(ctx))
      .map(
        ({ slug, name, credits, numbers, people, owners }) =>
          `${slug.padEnd(30)} ${name}: ${people} people, ${numbers} numbers, ${credits} credits; ${owners || 'no owner'}`,
      )
      .join('\n') || 'There is no workspace yet.',
  workspace: async (ctx) => {
    const input = await readInput(NewWorkspaceInput, {
      ...{ business: option('business'), contact: option('contact'), zone: option('zone') },
      country: option('country') || 'US',
      credits: Number(option('credits') || 0),
    });
    if (!input.ok) return refused(input.reason);
    const made = await giveWorkspace(ctx, input.value, { email: option('email'), name: option('name') });
    return made.ok ? `Workspace ${made.value.slug}. ${given(made.value.password)}` : refused(made.reason);
  },
  account: async (ctx) => {
    const role = option('role');
    if (!isRole(role)) return fail('role: must be one of owner, manager, teammate, counter.');
    const wanted = { email: option('email'), name: option('name'), role };
    const made = await giveAccount(ctx, option('workspace'), wanted);
    return made.ok ? given(made.value.password) : refused(made.reason);
  },
  password: async (ctx) => {
    const made = await resetPassword(ctx, option('email'));
    return made.ok ? given(made.value) : refused(made.reason);
  },
  'no-factor': async (ctx) => {
    const dropped = await dropFactorOf(ctx, option('email'));
    return dropped.ok ? 'They sign in with their password alone.' : refused(dropped.reason);
  },
  number: (ctx) =>
    within(ctx, async (scope, id) => {
      const input = await readInput(SenderNumberInput, {
        ...{ number: option('number'), kind: option('kind') },
        registration: option('registration') || 'registered',
        ...(option('pace') ? { parts_per_second: Number(option('pace')) } : {}),
      });
      if (!input.ok) return refused(input.reason);
      const entered = await enterNumber(ctx, scope, input.value, 'operator');
      return entered.ok ? `${entered.value.number} sends for ${id}.` : refused(entered.reason);
    }),
  credits: (ctx) =>
    within(ctx, async (scope) => {
      const input = await readInput(CreditsInput, {
        credits: Number(option('credits')),
        reason: option('reason'),
      });
      if (!input.ok) return refused(input.reason);
      const added = await addCredits(ctx, scope, input.value, 'operator');
      return added.ok ? `${added.value.creditBalance} credits now.` : refused(added.reason);
    }),
  ledger: (ctx) =>
    within(ctx, async (scope) => {
      const { sums, gaps } = await checkLedger(scope);
      return gaps.length === 0 ? `It adds up: ${sums.balance} credits left.` : fail(gaps.join('\n'));
    }),
  reader: async (ctx) => {
    const { role, password } = await openReader(ctx, { ...(await named(ctx)), slug: option('workspace') });
    return `Role ${role}. Password, shown once: ${password}`;
  },
  readers: async (ctx) =>
    (await readReaders(ctx, (await named(ctx)).id))
      .map(({ role, created_at: since }) => `${role} since ${since.toISOString()}`)
      .join('\n') || 'There is none.',
  'no-reader': async (ctx) => {
    const closed = await closeReader(ctx, (await named(ctx)).id, option('name'));
    return closed.ok ? 'It reads nothing any more.' : fail('There is no such reader.');
  },
  sums: async (ctx) =>
    option('workspace')
      ? within(ctx, async (scope, slug) => {
          await markOwnSumsDue(scope);
          return `The worker counts the sums of ${slug} anew.`;
        })
      : `The worker counts the sums of ${await acrossWorkspaces(ctx.orm, markAllSumsDue)} workspaces anew.`,
};

const isRole = (word: string): word is Role => ['owner', 'manager', 'teammate', 'counter'].includes(word);

async function within(
  ctx: Context,
  work: (scope: Parameters<Parameters<typeof inWorkspace>[2]>[0], slug: string) => Promise<string>,
): Promise<string> {
  const { id } = await named(ctx);
  return inWorkspace(ctx.orm, id, (scope) => work(scope, option('workspace')));
}

async function named(ctx: Context): Promise<{ id: string }> {
  const slug = option('workspace');
  return (await workspaceBySlug(ctx.orm, slug)) ?? fail(`There is no workspace "${slug}".`);
}

/** `npm run operate -- VERB`: what takes hands on the machine itself. */
const verb = VERBS[positionals[0] ?? ''] ?? fail(HELP);
const orm = getOrm();
console.log(await verb(makeContext(orm, () => Date.now())));
await orm.close(true);
process.exit(0);
