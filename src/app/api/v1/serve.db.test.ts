import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApiKey } from '@/services/access/api-keys';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { createProgram } from '@/services/programs/create-program';
import { addAccount } from '@/services/access/create-workspace';
import { makeWorld, type World } from '@/services/testing/world';
import { serveApi } from './serve';

let world: World;
let key: string;
let otherKey: string;
let previous: Record<string, string | undefined>;

beforeAll(async () => {
  world = await makeWorld();
  key = await world.within((scope) => createApiKey(world.ctx, scope, 'test', 'test'));
  const other = await createWorkspace(world.ctx, {
    slug: 'roving-dome',
    name: 'Roving Dome',
    business: 'Roving Dome',
    contact: 'x',
    zone: 'America/Denver',
    weeklyCap: null,
    credits: 10,
  });
  otherKey = await world.within((scope) => createApiKey(world.ctx, scope, 'test', 'test'), other.id);
  await world.within(
    (scope) =>
      addSenderNumber(world.ctx, scope, {
        number: '+15055550110',
        kind: 'local',
        registration: 'registered',
        partsPerSecond: 1,
      }),
    other.id,
  );
  await world.within(
    (scope) => createProgram(world.ctx, scope, { name: 'Theirs', purpose: 'recurring' }, 'test'),
    other.id,
  );
  previous = { DATABASE_URL: process.env.DATABASE_URL, WREN_SMPP_HOST: process.env.WREN_SMPP_HOST };
  // A real carrier is configured, so that the clock is the machine's and no bench is waited for.
  process.env.WREN_SMPP_HOST = '127.0.0.1';
  (globalThis as { wrenContext?: unknown }).wrenContext = Promise.resolve(world.ctx);
});
afterAll(async () => {
  Object.assign(process.env, previous);
  for (const name of Object.keys(previous)) if (previous[name] === undefined) delete process.env[name];
  (globalThis as { wrenContext?: unknown }).wrenContext = undefined;
  await world.close();
});

interface Answer {
  status: number;
  type: string | null;
  // The shape differs by route; each test looks at its own.
  // oxlint-disable-next-line typescript/no-explicit-any
  json: any;
}

async function call(
  method: string,
  path: string,
  body?: unknown,
  options: { key?: string | null; raw?: string } = {},
): Promise<Answer> {
  const used = options.key === undefined ? key : options.key;
  const text = options.raw ?? (body === undefined ? undefined : JSON.stringify(body));
  const response = await serveApi(
    new Request(`http://test/api/v1${path}`, {
      method,
      headers: { ...(used ? { authorization: `Bearer ${used}` } : {}) },
      ...(text === undefined ? {} : { body: text }),
    }),
  );
  const json = response.status === 204 ? {} : await response.json();
  return { status: response.status, type: response.headers.get('content-type'), json };
}

const rowsOf = async (table: string) =>
  (
    await world.within((scope) =>
      scope.rows<{ n: number }>(`select count(*)::int as n from ${table} where workspace_id = :workspace`),
    )
  )[0]!.n;

describe('the API', () => {
  it('describes itself in OpenAPI 3.1 without a key', async () => {
    const { status, json } = await call('GET', '/openapi.json', undefined, { key: null });
    expect(status).toBe(200);
    expect(json).toMatchObject({
      openapi: '3.1.0',
      components: { schemas: { GivenAddressInput: { required: ['address'] }, ClearanceCheckInput: {} } },
    });
    expect(Object.keys(json.paths)).toContain('/clearance/check');
  });

  it('wants a key, and a key that was not revoked', async () => {
    expect(await call('GET', '/people', undefined, { key: null })).toMatchObject({
      status: 401,
      type: 'application/problem+json',
    });
    expect(await call('GET', '/people', undefined, { key: 'wren_no' })).toMatchObject({ status: 401 });
  });

  it('gives what is to be done, and who waits, a page at a time and to the last', async () => {
    // Two of them are due at the same moment.
    for (const [i, due] of ['2026-12-03', '2026-12-01', '2026-12-01', '2026-12-02'].entries())
      await call('POST', '/tasks', { title: `Task ${i}`, due: `${due}T09:00:00Z` });
    for (const end of ['51', '52', '53']) await world.texts(`+130355501${end}`, 'Is it open?');
    for (const [path, name] of [
      ['/tasks', 'due_at'],
      ['/inbox/team', 'since'],
    ] as const) {
      const whole = (await call('GET', path)).json;
      expect(whole.next).toBeNull();
      const paged = [];
      let after: string | null = '';
      while (after !== null) {
        const { json } = await call('GET', `${path}?limit=1&after=${after}`);
        expect(json.items.length).toBeLessThanOrEqual(1);
        paged.push(...json.items);
        after = json.next;
      }
      expect([path, paged]).toEqual([path, whole.items]);
      expect(whole.items.map((one: Record<string, string>) => one[name])).toEqual(
        whole.items.map((one: Record<string, string>) => one[name]).sort(),
      );
      expect(whole.items.length).toBeGreaterThanOrEqual(3);
    }
  });

  it('adds a person with consent, lists them, shows their texts', async () => {
    const made = await call('POST', '/people', {
      number: '(303) 555-0101',
      first_name: 'Ana',
      consent: { program: 'clear sky alerts', wording: 'I agree' },
    });
    expect(made).toMatchObject({ status: 201, json: { number: '+13035550101', first_name: 'Ana' } });
    expect(await call('GET', `/people/${made.json.id}`)).toMatchObject({
      json: { consents: [{ program: 'Clear Sky Alerts', state: 'in', method: 'api' }] },
    });
    expect((await call('GET', '/people?limit=1')).json.items).toHaveLength(1);
    expect(await call('GET', `/people/${made.json.id}/texts`)).toMatchObject({
      status: 200,
      json: { items: [] },
    });
  });

  it('takes a broadcast from draft to send and back', async () => {
    const made = await call('POST', '/broadcasts', {
      program: 'Clear Sky Alerts',
      name: 'One',
      body: 'Hi {$person.first_name :wren:field fallback=friend}',
    });
    expect(made).toMatchObject({ status: 201, json: { state: 'draft' } });
    expect(await call('GET', `/broadcasts/${made.json.id}/clearance`)).toMatchObject({
      json: { people: 1, cleared: 1, cost: { credits: 1 } },
    });
    expect(
      await call('POST', `/broadcasts/${made.json.id}/send`, { at: '2026-11-25T12:00:00-07:00' }),
    ).toMatchObject({ status: 200, json: { state: 'scheduled', send_at: '2026-11-25T19:00:00.000Z' } });
    expect(await call('POST', `/broadcasts/${made.json.id}/send`, {})).toMatchObject({ status: 409 });
    expect(await call('POST', `/broadcasts/${made.json.id}/call-back`)).toMatchObject({
      json: { state: 'draft' },
    });
    expect(await call('GET', `/broadcasts/${made.json.id}/result`)).toMatchObject({
      json: { people: 0, delivery_rate: { share: null } },
    });
  });

  it('answers questions to the engines', async () => {
    expect(await call('POST', '/texts/measure', { body: 'it’s' })).toMatchObject({
      json: { alphabet: 'UCS-2', units: 4, parts: 1 },
    });
    expect(await call('POST', '/texts/interpret', { body: '"Sky"' })).toMatchObject({
      json: { meaning: 'keyword', keyword: 'sky' },
    });
    expect(
      await call('POST', '/clearance/check', {
        number: '+13035550101',
        program: 'Clear Sky Alerts',
        body: 'Hi',
        at: '2026-11-24T22:00:00-07:00',
      }),
    ).toMatchObject({
      json: { verdict: 'held', until: '2026-11-25T15:00:00.000Z', reasons: [{ code: 'quiet-hours' }] },
    });
    const stranger = await call('POST', '/clearance/check', {
      number: '+13055550150',
      program: 'Clear Sky Alerts',
      at: '2026-11-24T20:30:00-05:00',
      address: { region: 'FL' },
    });
    expect(stranger).toMatchObject({ json: { verdict: 'blocked' } });
    expect((stranger.json.reasons as { code: string }[]).map(({ code }) => code)).toEqual([
      'no-consent',
      'quiet-hours',
    ]);
  });
});

describe('bad input', () => {
  const long = 'x'.repeat(10_000);
  it.each([
    ['an unparsable number', '/people', { number: 'call me' }, 422, 'number'],
    ['a number with too few digits', '/people', { number: '555-01' }, 422, 'number'],
    ['a missing number', '/people', {}, 422, 'number'],
    ['an unknown field', '/people', { number: '3035550102', shoe: 9 }, 422, 'shoe'],
    ['a null character', '/people', { number: '3035550102', first_name: 'A\u0000b' }, 422, 'first_name'],
    ['a wrong e-mail', '/people', { number: '3035550102', email: 'nope' }, 422, 'email'],
    ['a state that is none', '/people', { number: '3035550102', region: 'ZZ' }, 422, 'region'],
    ['a zone that is none', '/people', { number: '3035550102', zone: 'Mars/Olympus' }, 422, 'zone'],
    [
      'consent without wording',
      '/people',
      { number: '3035550102', consent: { program: 'Clear Sky Alerts' } },
      422,
      'consent.wording',
    ],
    [
      'consent to no program',
      '/people',
      { number: '3035550102', consent: { program: 'Nope', wording: 'yes' } },
      422,
      'consent.program',
    ],
    ['a person twice', '/people', { number: '303 555 0101' }, 409, 'number'],
    ['a reserved word as keyword', '/keywords', { program: 'Clear Sky Alerts', word: 'Stop' }, 422, 'word'],
    ['a duplicate keyword', '/keywords', { program: 'Clear Sky Alerts', word: 'sky!' }, 409, 'word'],
    ['an empty keyword', '/keywords', { program: 'Clear Sky Alerts', word: '!!' }, 422, 'word'],
    ['a program twice', '/programs', { name: 'clear sky alerts', purpose: 'recurring' }, 409, 'name'],
    ['a purpose that is none', '/programs', { name: 'New', purpose: 'spam' }, 422, 'purpose'],
    [
      'a promise of nothing',
      '/programs',
      { name: 'New', purpose: 'recurring', promise: { count: 0, period: 'month' } },
      422,
      'promise.count',
    ],
    [
      'a sender that is none',
      '/programs',
      { name: 'New', purpose: 'recurring', sender_numbers: ['+15055550110'] },
      422,
      'sender_numbers',
    ],
    [
      'a text of 10,000 characters',
      '/broadcasts',
      { program: 'Clear Sky Alerts', name: 'Long', body: long },
      422,
      'body',
    ],
    [
      'a merge field that is none',
      '/broadcasts',
      { program: 'Clear Sky Alerts', name: 'N', body: 'Hi {first_name}' },
      422,
      'body',
    ],
    ['a text that is a number', '/texts/measure', { body: 5 }, 422, 'body'],
    ['a measured text of 10,000 characters', '/texts/measure', { body: long }, 422, 'body'],
    [
      'a time without an offset',
      '/clearance/check',
      { number: '3035550101', program: 'Clear Sky Alerts', at: '2026-11-24T10:00:00' },
      422,
      'at',
    ],
    [
      'a time that is none',
      '/clearance/check',
      { number: '3035550101', program: 'Clear Sky Alerts', at: '2026-13-44T10:00:00Z' },
      422,
      'at',
    ],
    [
      'nobody to check',
      '/clearance/check',
      { program: 'Clear Sky Alerts', at: '2026-11-24T10:00:00Z' },
      422,
      'number',
    ],
    [
      'an address that is a text',
      '/clearance/check',
      { number: '3035550101', program: 'Clear Sky Alerts', at: '2026-11-24T10:00:00Z', address: 'Denver' },
      422,
      'address',
    ],
    [
      'another workspace’s program',
      '/clearance/check',
      { number: '3035550101', program: 'Theirs', at: '2026-11-24T10:00:00Z' },
      422,
      'program',
    ],
    ['a list', '/people', [], 422, 'body'],
  ])('%s', async (_, path, body, status, field) => {
    const before = [
      await rowsOf('person'),
      await rowsOf('program'),
      await rowsOf('broadcast'),
      await rowsOf('keyword'),
      await rowsOf('consent_event'),
    ];
    const answer = await call('POST', path, body);
    expect(answer).toMatchObject({ status, type: 'application/problem+json' });
    const errors = answer.json.errors as { field: string; message: string }[];
    expect(errors.map((error) => error.field)).toContain(field);
    expect(errors[0]!.message).toMatch(/^[\w.]+: .{10,}/);
    // Nothing is half saved.
    expect([
      await rowsOf('person'),
      await rowsOf('program'),
      await rowsOf('broadcast'),
      await rowsOf('keyword'),
      await rowsOf('consent_event'),
    ]).toEqual(before);
  });

  it('keeps HTML in a name as plain characters', async () => {
    const made = await call('POST', '/people', {
      number: '3035550103',
      first_name: '<b onload="x()">Ana</b>',
    });
    expect(made.json.first_name).toBe('<b onload="x()">Ana</b>');
  });

  it('refuses a body that is too large, and one that is not JSON', async () => {
    expect(await call('POST', '/people', { number: 'x'.repeat(400_000) })).toMatchObject({ status: 413 });
    expect(await call('POST', '/people', undefined, { raw: '{"number": ' })).toMatchObject({ status: 400 });
  });

  it('gives 404 for another workspace’s rows, as for rows that never were', async () => {
    const people = await call('GET', '/people');
    const id = (people.json.items as { id: string }[])[0]!.id;
    for (const path of [`/people/${id}`, `/people/${id}/texts`])
      expect(await call('GET', path, undefined, { key: otherKey })).toMatchObject({ status: 404 });
    expect(
      await call(
        'POST',
        '/clearance/check',
        { person_id: id, program: 'Theirs', at: '2026-11-24T10:00:00Z' },
        { key: otherKey },
      ),
    ).toMatchObject({ status: 404 });
    const [broadcast] = (await call('GET', '/broadcasts')).json.items as { id: string }[];
    for (const verb of ['send', 'stop', 'pause', 'resume', 'call-back'])
      expect(await call('POST', `/broadcasts/${broadcast!.id}/${verb}`, {}, { key: otherKey })).toMatchObject(
        { status: 404 },
      );
    for (const path of ['', '/clearance', '/result'])
      expect(
        await call('GET', `/broadcasts/${broadcast!.id}${path}`, undefined, { key: otherKey }),
      ).toMatchObject({ status: 404 });
    const [keyword] = (await call('GET', '/keywords')).json.items as { id: string }[];
    expect(await call('DELETE', `/keywords/${keyword!.id}`, undefined, { key: otherKey })).toMatchObject({
      status: 404,
    });
  });

  it.each([
    ['GET', '/people?limit=0', 422],
    ['GET', '/people?limit=abc', 422],
    ['GET', '/nowhere', 404],
    ['GET', '/people/%00', 404],
    ['GET', '/people/%E0%A4%A', 404],
    ['DELETE', '/people', 405],
  ])('%s %s is %d', async (method, path, status) =>
    expect(await call(method, path)).toMatchObject({ status }),
  );
});

describe('people in numbers', () => {
  const cut = JSON.stringify({ all: [{ ask: 'field', field: 'source', test: 'is', value: 'API' }] });

  it('are added all or none', async () => {
    const two = [{ number: '9165550131', first_name: 'Bulk' }, { number: '9165550132' }];
    const before = (await call('POST', '/people/count', {})).json.count as number;
    const wrong = await call('POST', '/people/bulk', { people: [...two, { number: '12' }] });
    expect([wrong.status, wrong.json.errors[0].field]).toEqual([422, 'people.2.number']);
    expect((await call('POST', '/people/count', {})).json.count).toBe(before);
    const made = await call('POST', '/people/bulk', { people: two });
    expect([made.status, made.json.items.length]).toEqual([201, 2]);
    expect((await call('POST', '/people/bulk', { people: two })).status).toBe(409);
  });

  it('are counted by a condition, after each branch and in words', async () => {
    const { status, json } = await call('POST', '/people/count', { condition: cut });
    expect(status).toBe(200);
    expect(json.sentence).toBe('People whose source is API');
    expect(json.steps[0].count).toBe(json.count);
    const wrong = await call('POST', '/people/count', { condition: '{"all":[{"ask":"nothing"}]}' });
    expect([wrong.status, wrong.json.errors[0].field]).toEqual([422, 'condition.all.0']);
  });

  it('are kept as a segment, and tagged as a batch that is seen, stopped, and not found by others', async () => {
    const keep = () => call('POST', '/segments', { name: 'From the API', condition: cut });
    expect((await keep()).status).toBe(409);
    await addAccount(world.ctx, world.workspaceId, {
      email: 'owner@example.org',
      name: 'Odile',
      password: 'x',
      role: 'owner',
    });
    expect((await keep()).status).toBe(201);
    expect((await call('GET', '/segments')).json.items.map(({ name }: { name: string }) => name)).toContain(
      'From the API',
    );
    expect((await call('POST', '/segments', { name: 'from the api', condition: cut })).status).toBe(409);
    const wrong = await call('POST', '/batches', {
      name: 'B',
      action: 'add-label',
      id: 'lab_gone',
      condition: cut,
    });
    expect([wrong.status, wrong.json.errors[0].field]).toEqual([422, 'id']);
    const batch = await call('POST', '/batches', { name: 'B', action: 'keep', condition: cut });
    expect([batch.status, batch.json.state]).toEqual([201, 'waiting']);
    expect((await call('GET', `/batches/${batch.json.id}`)).json.total).toBe(batch.json.total);
    expect((await call('POST', `/batches/${batch.json.id}/stop`)).json.state).toBe('stopped');
    expect((await call('POST', `/batches/${batch.json.id}/undo`)).status).toBe(409);
    expect((await call('GET', '/batches/bat_elsewhere')).status).toBe(404);
  });

  it.each<[string, object, string]>([
    ['no list', { people: 'x' }, 'people'],
    ['a stranger in it', { people: [{ number: '9165550133', shoe: 1 }] }, 'people.0.shoe'],
    ['too many', { people: Array.from({ length: 501 }, () => ({ number: '1' })) }, 'people'],
  ])('are refused with %s', async (_, body, field) => {
    const { status, json } = await call('POST', '/people/bulk', body);
    expect([status, json.errors[0].field]).toEqual([422, field]);
  });
});

describe('a key', () => {
  const ask = (
    method: string,
    path: string,
    used: string,
    body?: object,
    headers: Record<string, string> = {},
  ) =>
    serveApi(
      new Request(`http://test/api/v1${path}`, {
        method,
        headers: { authorization: `Bearer ${used}`, 'x-request-id': 'r1', ...headers },
        ...(body ? { body: JSON.stringify(body) } : {}),
      }),
    );
  const keyFor = (scopes: Parameters<typeof createApiKey>[4]) =>
    world.within((scope) => createApiKey(world.ctx, scope, `only ${scopes?.join()}`, 'test', scopes));

  it('does what its scopes say, and is told which one it lacks', async () => {
    const reads = await keyFor(['read']);
    expect((await ask('GET', '/people', reads)).status).toBe(200);
    expect((await ask('POST', '/texts/measure', reads, { body: 'x' })).status).toBe(200);
    const refused = await ask('POST', '/people', reads, { number: '+13035550171' });
    expect(refused.status).toBe(403);
    expect(await refused.json()).toMatchObject({ detail: expect.stringContaining('the scope edit-people') });
    const edits = await keyFor(['edit-people']);
    expect((await ask('POST', '/people', edits, { number: '+13035550171' })).status).toBe(201);
    expect((await ask('GET', '/people', edits)).status).toBe(403);
  });

  it('is told how often it may still ask', async () => {
    const { headers } = await ask('GET', '/programs', await keyFor(null));
    expect(headers.get('ratelimit-policy')).toBe('"minute";q=600;w=60');
    expect(headers.get('ratelimit')).toMatch(/^"minute";r=599;t=\d+$/);
  });

  it('is turned away when it asks too often, with when to go on', async () => {
    const busy = await keyFor(['redeem']);
    const statuses: number[] = [];
    let last: Response | null = null;
    for (let i = 0; i < 601; i++) statuses.push((last = await ask('GET', '/nowhere', busy)).status);
    expect(new Set(statuses.slice(0, 600))).toEqual(new Set([404]));
    expect(last!.status).toBe(429);
    expect(Number(last!.headers.get('retry-after'))).toBeGreaterThan(0);
    expect(last!.headers.get('content-type')).toContain('application/problem+json');
  });

  it('counts a request once by its Idempotency-Key, and takes no other body for it', async () => {
    const used = await keyFor(null);
    const once = { 'idempotency-key': 'a1' };
    const first = await ask('POST', '/people', used, { number: '+13035550172' }, once);
    const again = await ask('POST', '/people', used, { number: '+13035550172' }, once);
    expect([first.status, again.status]).toEqual([201, 201]);
    expect(await again.json()).toEqual(await first.json());
    const other = await ask('POST', '/people', used, { number: '+13035550173' }, once);
    expect(other.status).toBe(422);
    expect(await other.json()).toMatchObject({ detail: expect.stringContaining('with another body') });
  });

  it('leaves behind what it asked for, without a number of anybody', async () => {
    const used = await keyFor(null);
    await ask('GET', '/people/%2B13035550174', used);
    const rows = await world.rows(
      `select c.method, c.path, c.status, c.request from api_call c join api_key k on k.id = c.key_id
        where c.workspace_id = :workspace and k.hint = :hint order by c.seq`,
      { hint: used.slice(-4) },
    );
    expect(rows).toEqual([{ method: 'GET', path: '/people/…', status: 404, request: 'r1' }]);
  });
});
