import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { checkConsent } from '@/services/consent/check-consent';
import { createProgram } from '@/services/programs/create-program';
import { ImportDesk } from '@/services/testing/imports';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { undoImport } from './imports';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new ImportDesk(() => world);
const { upload, check, run, work, read, consent } = desk;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const FILE = `Name,Phone,SMS opt-in,Opted out
Ana,(303) 555-0101,yes,
Ben,(303) 555-0102,no,
Cy,(303) 555-0103,yes,2026-02-01
Dee,(303) 555-0104,,
`;

/** By whom what holds toward every program, and whether they left altogether. */
const standing = () =>
  world.rows<{ name: string; states: string[]; stopped: boolean }>(
    `select p.first_name as name, p.stopped_at is not null as stopped,
            array(select g.name || ' ' || c.state from consent_state c join program g on g.id = c.program_id where c.person_id = p.id and c.channel = 'sms' and c.current order by 1) as states
       from person p where p.workspace_id = :workspace order by 1`,
  );

describe('a file that says who may be texted', () => {
  it('brings consent only of whom it says they agreed, and takes out whom it says they left', async () => {
    must(
      await world.within((scope) =>
        createProgram(world.ctx, scope, { name: 'Other', purpose: 'recurring' }, 'test'),
      ),
    );
    const row = await upload(FILE);
    expect(row.mapping.map(({ to }) => to)).toEqual(['full_name', 'number', 'agreed', 'left']);
    const [program] = await world.rows<{ name: string; id: string }>(
      `select name, id from program where workspace_id = :workspace and name <> 'Other'`,
    );
    const tried = await check(row, { ...(await consent()), program: program!.id });
    expect(tried.counts).toMatchObject({
      add: 4,
      findings: { textable: 1, 'no consent': 2, 'opted out': 1 },
    });
    await run(tried);
    expect(await standing()).toEqual([
      { name: 'Ana', states: [`${program!.name} in`], stopped: false },
      { name: 'Ben', states: [], stopped: false },
      { name: 'Cy', states: ['Other out', `${program!.name} out`].sort(), stopped: true },
      { name: 'Dee', states: [], stopped: false },
    ]);
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
    // A later file attests consent of all: it does not bring back who left.
    const later = await upload('Name,Phone\nCy,(303) 555-0103\nBen,(303) 555-0102\n', 'later.csv');
    const done = await run(await check(later, { ...(await consent()), program: program!.id }));
    expect(done.counts).toMatchObject({ 'opted-out': 1, same: 1 });
    expect((await standing())[2]).toMatchObject({ name: 'Cy', stopped: true });
  });

  it('takes out who is here and agreed, though they are to be left as they are, and calls back what waits', async () => {
    await world.texts('+13035550103', 'sky');
    await world.rows(
      `update message set state = 'queued', not_before = 'infinity', submitted_at = null, settled_at = null where workspace_id = :workspace and kind <> 'opt-out-confirmation'`,
    );
    const tried = await check(await upload(FILE), { ...(await consent()), update: false });
    expect(tried.counts).toMatchObject({ add: 3, left: 1 });
    const done = await run(tried);
    expect((await standing()).find(({ stopped }) => stopped)).toMatchObject({ stopped: true });
    const waiting = await world.rows(
      `select 1 from message where workspace_id = :workspace and state = 'queued' and address = '+13035550103'`,
    );
    expect(waiting).toEqual([]);
    // Undone, whoever it added goes; that somebody left does not.
    must(await world.within((scope) => undoImport(world.ctx, scope, done.id, ME)));
    await work();
    expect((await read(done.id)).state).toBe('undone');
    expect(await standing()).toMatchObject([{ stopped: true }]);
  });

  it('keeps the day on which each agreed as evidence, where a column tells it', async () => {
    const row = await upload(
      'Phone,SMS consent date\n(303) 555-0101,2024-03-25 10:22:33\n(303) 555-0102,"Mar 5, 2025"\n(303) 555-0103,\n(303) 555-0104,2099-01-01\n',
    );
    expect(row.mapping.map(({ to }) => to)).toEqual(['number', 'agreed_on']);
    const input = await consent();
    const tried = await check(row, input);
    expect(tried.counts).toMatchObject({ add: 4, findings: { textable: 2, 'no consent': 2 } });
    await run(tried);
    const ledger = await world.rows<{ number: string; on: string }>(
      `select p.number, e.evidence ->> 'obtainedAt' as on from consent_event e join person p on p.id = e.person_id where e.workspace_id = :workspace order by 1`,
    );
    expect(ledger).toEqual([
      { number: '+13035550101', on: '2024-03-25' },
      { number: '+13035550102', on: '2025-03-05' },
    ]);
  });

  it('of those who left takes out all of them, and asks for no consent', async () => {
    const row = await upload('Number,Reason\n(303) 555-0101,moved\n(303) 555-0102,STOP\n');
    const input = { ...(await consent()), left: true };
    await expect(check(row, input)).rejects.toThrow();
    const tried = await check(row, { left: true });
    expect(tried.counts).toMatchObject({ add: 2, findings: { 'opted out': 2 } });
    await run(tried);
    expect((await standing()).map(({ stopped }) => stopped)).toEqual([true, true]);
  });

  it('counts a second row of somebody that says they left, though it is left out', async () => {
    const row = await upload(`${FILE}Ana again,303.555.0101,,yes\n`);
    const done = await run(await check(row, await consent()));
    expect(done.counts).toMatchObject({ duplicate: 1 });
    expect((await standing())[0]).toMatchObject({
      name: 'Ana',
      stopped: true,
      states: [expect.stringMatching(/out$/)],
    });
  });
});
