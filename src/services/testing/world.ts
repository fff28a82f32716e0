import { UNCHECKED } from '@/core/wording/settings';
import { openTestOrm } from '@/db/testing/orm';
import { acrossWorkspaces, inWorkspace, type Scope, type SqlValue } from '@/db/kit/scope';
import { makeContext, type Context } from '@/services/context';
import { addSenderNumber, createWorkspace, type NewSender } from '@/services/access/create-workspace';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import { receiveText } from '@/services/inbox/receive-text';
import type { CreateProgramInput } from '@/services/programs/inputs';

/** A workspace on a fresh database with a clock the test moves: noon in Denver on a Tuesday unless set. */
export interface World {
  ctx: Context;
  workspaceId: string;
  databaseUrl: string;
  clock: { at: number };
  within<T>(work: (scope: Scope) => Promise<T>, workspaceId?: string): Promise<T>;
  rows<T extends object>(sql: string, values?: Record<string, SqlValue>): Promise<T[]>;
  /** A text from a person's phone to the program's number. */
  texts(from: string, body: string, to?: string): ReturnType<typeof receiveText>;
  /** A second workspace beside it, with a program of the same name and a number. */
  another(): Promise<{ id: string }>;
  /** Makes the database refuse to write rows of a table that meet a condition on `new`. */
  poison(table: string, when: string): Promise<void>;
  /** Takes the poison back. */
  cure(table: string): Promise<void>;
  close(): Promise<void>;
}

export const NUMBER = '+17195550110';
/** The number of the i-th person of a test. */
export const phone = (i: number): string => `+1303555${String(100 + i).padStart(4, '0')}`;
export const NOON = Date.UTC(2026, 10, 24, 19, 0);

let carrierIds = 0;

export async function makeWorld(
  options: { sender?: Partial<NewSender>; program?: Partial<CreateProgramInput>; credits?: number } = {},
): Promise<World> {
  const { orm, url: databaseUrl, close } = await openTestOrm();
  const clock = { at: NOON };
  const ctx = makeContext(orm, () => clock.at);
  const workspace = await createWorkspace(ctx, {
    ...WORKSPACE,
    slug: 'juniper-gap',
    credits: options.credits ?? 100_000,
  });
  const within: World['within'] = (work, workspaceId = workspace.id) => inWorkspace(orm, workspaceId, work);
  await within((scope) =>
    addSenderNumber(ctx, scope, {
      number: NUMBER,
      kind: 'local',
      registration: 'registered',
      partsPerSecond: 1_000,
      ...options.sender,
    }),
  );
  await within((scope) =>
    createProgram(
      ctx,
      scope,
      {
        name: 'Clear Sky Alerts',
        purpose: 'recurring',
        promise: { count: 6, period: 'month' },
        ...options.program,
      } as CreateProgramInput,
      'test',
    ),
  );
  await within((scope) => createKeyword(ctx, scope, { program: 'Clear Sky Alerts', word: 'SKY' }, 'test'));
  return {
    ctx,
    workspaceId: workspace.id,
    databaseUrl,
    clock,
    within,
    rows: (sql, values) => within((scope) => scope.rows(sql, values)),
    texts: (from, body, to = NUMBER) =>
      receiveText(ctx, { carrierId: `test${carrierIds++}`, from, to, body, concat: null }),
    async another() {
      const { id } = await createWorkspace(ctx, { ...WORKSPACE, slug: 'another', credits: 1_000 });
      await within(
        (scope) =>
          addSenderNumber(ctx, scope, {
            ...{ number: '+17195550120', kind: 'local' as const, registration: 'registered' as const },
            partsPerSecond: 1_000,
          }),
        id,
      );
      const program = { name: 'Clear Sky Alerts', purpose: 'recurring' } as CreateProgramInput;
      await within((scope) => createProgram(ctx, scope, program, 'test'), id);
      return { id };
    },
    poison: (table, when) =>
      acrossWorkspaces(orm, async (crossing) => {
        await crossing.run(
          `create or replace function poison_${table}() returns trigger language plpgsql as $$ begin if ${when} then raise exception 'poisoned'; end if; return new; end $$`,
        );
        await crossing.run(
          `create or replace trigger poison before insert or update on ${table} for each row execute function poison_${table}()`,
        );
      }),
    cure: (table) =>
      acrossWorkspaces(orm, async (crossing) => void (await crossing.run(`drop trigger poison on ${table}`))),
    close,
  };
}

const WORKSPACE = {
  name: 'Juniper Gap Observatory',
  business: 'Juniper Gap Observatory',
  contact: '(719) 555-0110',
  zone: 'America/Denver',
  weeklyCap: 4,
  // What is written in tests of what comes after is not checked.
  wording: UNCHECKED,
};
