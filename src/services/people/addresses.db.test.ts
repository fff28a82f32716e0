import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { EVERYBODY, type Condition } from '@/core/audience/condition';
import type { Result } from '@/core/shared/result';
import { findProgram } from '@/services/programs/find-program';
import { recordConsent } from '@/services/consent/record-consent';
import { checkConsent } from '@/services/consent/check-consent';
import { checkClearance } from '@/services/clearance/check-clearance';
import { createProgram } from '@/services/programs/create-program';
import { erasePerson } from './erase-person';
import { editPerson } from './edit-person';
import { round, Scripted } from '@/services/testing/sending';
import { broadcastTo } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { addAddressTo, preferAddressOf, takeAddressFrom } from './addresses';
import { attestConsent, createPerson } from './create-person';
import { mergePeople } from './merge-people';
import { readPeopleTable } from './people-table';
import { readPersonScreen } from './screen';

const [ANA, OTHER, BO] = [phone(1), phone(2), phone(3)];
let world: World;
let ana: string;

const rows = <T extends object>(sql: string, values = {}) =>
  world.within((scope) => scope.rows<T>(sql, values));
const whoHas = async (address: string) =>
  (
    await rows<{ id: string }>(
      `select person_id as id from address where workspace_id = :workspace and value = :address`,
      { address },
    )
  )[0]?.id;
const change = (act: typeof addAddressTo, address: string, who = ana) =>
  world.within((scope) => act(world.ctx, scope, who, address, 'test'));
const shown = (result: Awaited<ReturnType<typeof change>>) =>
  result.ok ? result.value.map(({ value }) => value) : result.reason.problems[0]!.message;
const told = () =>
  rows<{ address: string; state: string; current: boolean }>(
    `select address, state, current from consent_state where workspace_id = :workspace and person_id = :ana order by address`,
    { ana },
  );
const found = async (search: string, condition: Condition = EVERYBODY) => {
  const page = await world.within((scope) =>
    readPeopleTable(scope, { condition, search, sort: '', after: '' }, world.clock.at),
  );
  return page.ok ? page.value.rows.map(({ id }) => id) : page.reason.problems;
};
const must = <T, R>(result: Result<T, R>): T => {
  if (!result.ok) throw new Error(JSON.stringify(result.reason));
  return result.value;
};
async function leaves(): Promise<string[]> {
  const carrier = new Scripted();
  while ((await round(world, carrier)) > 0);
  return carrier.parts.map(({ to }) => to);
}

beforeEach(async () => {
  world = await makeWorld();
  await world.texts(ANA, 'sky');
  ana = (await whoHas(ANA))!;
  await leaves();
});
afterEach(() => world.close());

describe('an address', () => {
  it('is added, preferred, taken away; the last one stays', async () => {
    expect(shown(await change(addAddressTo, '(303) 555-0102'))).toEqual([ANA, OTHER]);
    expect(shown(await change(addAddressTo, 'Ana@Example.org'))).toEqual([ANA, OTHER, 'ana@example.org']);
    expect(shown(await change(preferAddressOf, OTHER))).toEqual([OTHER, ANA, 'ana@example.org']);
    expect(
      await rows(`select number, email, further from person where workspace_id = :workspace and id = :ana`, {
        ana,
      }),
    ).toEqual([{ number: OTHER, email: 'ana@example.org', further: [ANA] }]);
    expect(shown(await change(takeAddressFrom, OTHER))).toEqual([ANA, 'ana@example.org']);
    expect(shown(await change(takeAddressFrom, ANA))).toEqual(['ana@example.org']);
    expect(shown(await change(takeAddressFrom, 'ana@example.org'))).toMatch(/all they can be reached by/);
  });

  it.each([
    ['what is no address', '12', /digits are missing/],
    ['what is no e-mail', 'ana@', /no e-mail address/],
    ['their own once more', ANA, /theirs already/],
    ['the number of somebody else', BO, /merge the two/],
  ])('is refused: %s', async (_, address, words) => {
    await world.texts(BO, 'hello');
    expect(shown(await change(addAddressTo, address))).toMatch(words);
  });

  it('that is not theirs is neither preferred nor taken away', async () => {
    await world.texts(BO, 'hello');
    expect(shown(await change(preferAddressOf, BO))).toMatch(/not one of theirs/);
    expect(shown(await change(takeAddressFrom, BO))).toMatch(/not one of theirs/);
  });

  it('of a family may be several people’s, a number may not', async () => {
    await world.texts(BO, 'hello');
    expect(shown(await change(addAddressTo, 'home@example.org'))).toContain('home@example.org');
    expect(shown(await change(addAddressTo, 'home@example.org', (await whoHas(BO))!))).toContain(
      'home@example.org',
    );
  });

  it('finds the person, whichever it is: in the search, in a condition, by a text', async () => {
    await change(addAddressTo, OTHER);
    await change(addAddressTo, 'ana@example.org');
    await change(addAddressTo, 'second@example.org');
    for (const search of ['5550102', 'second@ex', 'ana@ex', '5550101'])
      expect(await found(search)).toEqual([ana]);
    const further: Condition = { all: [{ ask: 'field', field: 'further', test: 'is', value: OTHER }] };
    expect(await found('', further)).toEqual([ana]);
    await world.texts(OTHER, 'hello');
    expect(
      await rows(`select 1 from inbound_text where workspace_id = :workspace and person_id = :ana`, { ana }),
    ).toHaveLength(2);
    expect(await rows(`select 1 from person where workspace_id = :workspace`)).toHaveLength(1);
  });

  it('that was erased comes back by no hand', async () => {
    await change(addAddressTo, 'ana@example.org');
    await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'));
    await world.texts(BO, 'hello');
    expect(shown(await change(addAddressTo, 'ana@example.org', (await whoHas(BO))!))).toMatch(/erased/);
    expect(shown(await change(addAddressTo, ANA, (await whoHas(BO))!))).toMatch(/erased/);
  });

  it('edited in place replaces the one before, unless that one agreed to something', async () => {
    const edit = (email: string) =>
      world.within((scope) => editPerson(world.ctx, scope, ana, 'email', email, 'test'));
    const emails = () =>
      rows<{ value: string }>(
        `select value from address where workspace_id = :workspace and person_id = :ana and kind = 'email' order by rank`,
        { ana },
      ).then((all) => all.map(({ value }) => value));
    must(await edit('first@example.org'));
    must(await edit('second@example.org'));
    expect(await emails()).toEqual(['second@example.org']);
    await agree('email', 'second@example.org');
    must(await edit('third@example.org'));
    expect(await emails()).toEqual(['third@example.org', 'second@example.org']);
    must(await edit('second@example.org'));
    expect(await emails()).toEqual(['second@example.org']);
    must(await edit(''));
    expect(await emails()).toEqual([]);
  });
});

const agree = (channel: 'sms' | 'email' | 'voicemail', address: string) =>
  world.within(async (scope) => {
    const program = (await findProgram(scope, 'Clear Sky Alerts'))!;
    return recordConsent(world.ctx, scope, {
      ...{ personId: ana, programId: program.id, channel, address },
      ...{ kind: 'opted-in', method: 'by-hand', evidence: { wording: 'yes, please' } },
    });
  });

describe('consent', () => {
  it('is an address’s: a second number agreed to nothing', async () => {
    await change(addAddressTo, OTHER);
    await change(preferAddressOf, OTHER);
    await broadcastTo(world, 0);
    // What agreed is written to, although another is preferred.
    expect(await leaves()).toEqual([ANA]);
  });

  it('by several channels of one address is shown as one of each program', async () => {
    await agree('voicemail', ANA);
    const seen = await world.within((scope) => readPersonScreen(scope, ana, world.clock.at));
    expect(seen?.agreed).toEqual({ [`number ${ANA}`]: ['Clear Sky Alerts'] });
  });

  it('goes with the address that is taken away, and what waits for it is called back', async () => {
    await change(addAddressTo, OTHER);
    await change(takeAddressFrom, ANA);
    expect(await told()).toEqual([{ address: ANA, state: 'lapsed', current: true }]);
    await broadcastTo(world, 0);
    expect(await leaves()).toEqual([]);
  });

  it('ends for every number with one STOP, and no hand opens it by another', async () => {
    await change(addAddressTo, OTHER);
    await agree('sms', OTHER);
    world.clock.at += 60_000;
    await world.texts(ANA, 'STOP');
    expect((await told()).map(({ state }) => state)).toEqual(['out', 'out']);
    await change(addAddressTo, BO);
    expect(await agree('sms', BO)).toEqual({ ok: false, reason: 'opted-out-stays-out' });
    world.clock.at += 60_000;
    await world.texts(BO, 'sky');
    expect((await told()).filter(({ current }) => current)).toEqual([
      { address: BO, state: 'in', current: true },
    ]);
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });

  it('that ended by an address stays ended when that is taken away', async () => {
    world.clock.at += 60_000;
    await world.texts(BO, 'sky');
    await world.texts(BO, 'STOP');
    await leaves();
    const bo = (await whoHas(BO))!;
    const me = { name: 'test', accountId: null };
    must(await world.within((scope) => mergePeople(world.ctx, scope, ana, bo, {}, me)));
    expect((await told()).filter(({ current }) => current)).toMatchObject([{ address: BO, state: 'out' }]);
    await change(takeAddressFrom, BO);
    expect((await told()).filter(({ current }) => current)).toMatchObject([{ address: BO, state: 'out' }]);
    await broadcastTo(world, 0);
    expect(await leaves()).toEqual([]);
    // They themselves can come back.
    world.clock.at += 60_000;
    await world.texts(ANA, 'sky');
    expect((await told()).filter(({ current }) => current)).toMatchObject([{ address: ANA, state: 'in' }]);
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });

  it('that ended by one address holds what was queued for another before the two became one', async () => {
    world.clock.at += 60_000;
    await world.texts(BO, 'sky');
    await world.texts(BO, 'STOP');
    await leaves();
    await broadcastTo(world, 0);
    const bo = (await whoHas(BO))!;
    const me = { name: 'test', accountId: null };
    must(await world.within((scope) => mergePeople(world.ctx, scope, ana, bo, {}, me)));
    expect(await leaves()).toEqual([]);
  });

  it('to everything ends what comes to be later too: a new program is agreed to by them alone', async () => {
    await world.texts(ANA, 'STOP');
    await leaves();
    const program = must(
      await world.within((scope) =>
        createProgram(world.ctx, scope, { name: 'Meteors', purpose: 'recurring' }, 'test'),
      ),
    );
    const consent = { program: 'Meteors', wording: 'yes, please' };
    const attested = await world.within((scope) => attestConsent(world.ctx, scope, ana, consent, 'test'));
    expect(attested).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringMatching(/only they can come back/i) as string }] },
    });
    // Whatever says that they agreed: it was not them.
    must(
      await world.within((scope) =>
        recordConsent(world.ctx, scope, {
          ...{ personId: ana, programId: program.id, channel: 'sms', address: ANA },
          ...{ kind: 'opted-in', method: 'by-hand', evidence: { wording: 'yes, please' } },
        }),
      ),
    );
    const asked = { program: 'Meteors', person_id: ana, at: new Date(world.clock.at).toISOString() };
    const cleared = must(await world.within((scope) => checkClearance(scope, asked)));
    expect(cleared.verdict).toBe('blocked');
    expect(cleared.reasons.map(({ code }) => code)).toContain('opted-out');
  });

  it('by e-mail is its own: a STOP by text ends none of it', async () => {
    await change(addAddressTo, 'ana@example.org');
    must(await agree('email', 'ana@example.org'));
    await world.texts(ANA, 'STOP');
    expect(await told()).toEqual([
      { address: ANA, state: 'out', current: true },
      { address: 'ana@example.org', state: 'in', current: true },
    ]);
  });
});

it('an e-mail address alone makes a person, with consent by it', async () => {
  const made = await world.within((scope) =>
    createPerson(
      world.ctx,
      scope,
      { email: ' Cy@Example.org', consent: { program: 'Clear Sky Alerts', wording: 'I agree' } },
      'test',
    ),
  );
  expect(made).toMatchObject({ ok: true, value: { number: null, email: 'cy@example.org' } });
  expect(
    await rows(
      `select channel, address from consent_state where workspace_id = :workspace and channel = 'email'`,
    ),
  ).toEqual([{ channel: 'email', address: 'cy@example.org' }]);
  const again = await world.within((scope) =>
    createPerson(world.ctx, scope, { email: 'cy@example.org' }, 'test'),
  );
  expect(again).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  const nothing = await world.within((scope) => createPerson(world.ctx, scope, { first_name: 'Di' }, 'test'));
  expect(nothing).toMatchObject({ ok: false, reason: { problems: [{ field: 'number' }] } });
});
