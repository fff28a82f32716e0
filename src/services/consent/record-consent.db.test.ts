import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ConsentKind, Method } from '@/core/consent/ledger';
import { findProgram } from '@/services/programs/find-program';
import { acrossWorkspaces } from '@/db/kit/scope';
import { addCrowd } from '@/services/testing/crowd';
import { addPerson } from '@/services/testing/people';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { leaveByHand, recordConsent } from './record-consent';

let world: World;
let program: string;
let ana: string;
beforeEach(async () => {
  world = await makeWorld();
  program = (await world.within((scope) => findProgram(scope, 'Clear Sky Alerts')))!.id;
  ana = await addPerson(world, phone(1));
});
afterEach(() => world.close());

const record = (
  kind: ConsentKind,
  method: Method,
  evidence: object = { wording: 'I agree' },
  address = phone(1),
) =>
  world.within((scope) =>
    recordConsent(world.ctx, scope, {
      ...{ personId: ana, programId: program, channel: 'sms', address },
      ...{ kind, method, evidence },
    }),
  );
const states = () =>
  world.rows<{ address: string; state: string }>(
    `select address, state from consent_state where workspace_id = :workspace order by address`,
  );

describe('consent', () => {
  it('needs the words that were agreed to, and is told once', async () => {
    expect(await record('opted-in', 'spoken', {})).toEqual({ ok: false, reason: 'evidence-missing' });
    expect(await record('opted-in', 'spoken')).toMatchObject({ ok: true, value: { state: 'in' } });
    expect(await record('opted-in', 'spoken')).toEqual({ ok: false, reason: 'already-so' });
  });

  it('of many at once is recorded without going through the whole ledger for each of them', async () => {
    // The database knows the ledger as empty, and would look at nothing by its index.
    await acrossWorkspaces(world.ctx.orm, (crossing) => crossing.run(`analyze`));
    const [ledger] = await world.within(async (scope) => {
      await addCrowd(scope, program, 500);
      return scope.rows<{ added: number; walked: number }>(
        `select n_tup_ins::int as added, seq_tup_read::int as walked from pg_stat_xact_user_tables where relname = 'consent_event' and :workspace::text is not null`,
      );
    });
    expect(ledger!.added).toBe(500);
    expect(ledger!.walked).toBeLessThan(5_000);
  });

  it('ended by the person does not come back by what others say of them, only by their own act', async () => {
    await record('opted-in', 'spoken');
    await record('opted-out', 'reply');
    for (const method of ['spoken', 'import', 'by-hand', 'api'] as const)
      expect(await record('opted-in', method)).toEqual({ ok: false, reason: 'opted-out-stays-out' });
    expect(await record('opted-in', 'keyword')).toMatchObject({ ok: true, value: { state: 'in' } });
  });

  it('is one address’s; leaving from any of them ends what the others agreed to', async () => {
    await record('opted-in', 'spoken');
    await record('opted-in', 'spoken', { wording: 'I agree' }, phone(2));
    await record('opted-out', 'reply', {}, phone(2));
    expect(await states()).toEqual([
      { address: phone(1), state: 'out' },
      { address: phone(2), state: 'out' },
    ]);
  });

  it('recorded twice at the same moment never covers a STOP', async () => {
    await record('opted-in', 'spoken');
    await Promise.all([record('opted-out', 'reply'), record('opted-in', 'spoken')]);
    expect(await states()).toEqual([{ address: phone(1), state: 'out' }]);
  });

  it('ends by hand on every channel there is an address for', async () => {
    await record('opted-in', 'spoken');
    const leave = () =>
      world.within((scope) =>
        leaveByHand(world.ctx, scope, { personId: ana, programId: program, evidence: {} }),
      );
    expect(await leave()).toBe(true);
    // Texts and voicemails go to the same number, and both are ended.
    expect(await states()).toEqual([
      { address: phone(1), state: 'out' },
      { address: phone(1), state: 'out' },
    ]);
    expect(await leave()).toBe(false);
  });
});
