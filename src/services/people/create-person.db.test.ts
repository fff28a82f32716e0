import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR, toIso } from '@/core/shared/instant';
import { must, personOf } from '@/services/testing/people';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { attestConsent, createPerson } from './create-person';
import type { ConsentInput } from './inputs';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const ALERTS = { program: 'Clear Sky Alerts', wording: 'You may text me about clear nights.' };
const attest = (personId: string, consent: ConsentInput) =>
  world.within((scope) => attestConsent(world.ctx, scope, personId, consent, 'key:test'));
const states = (personId: string) =>
  world.rows<{ channel: string; state: string; method: string }>(
    `select channel, state, method from consent_state where workspace_id = :workspace and person_id = :personId order by channel`,
    { personId },
  );
const somebody = async (): Promise<string> =>
  must(await world.within((scope) => createPerson(world.ctx, scope, { number: phone(1) }, 'test'))).id;

describe('what somebody who is known agreed to', () => {
  it('is attested channel by channel, with the words they agreed to', async () => {
    const id = await somebody();
    must(await attest(id, ALERTS));
    must(await attest(id, { ...ALERTS, channel: 'voicemail' }));
    expect(await states(id)).toEqual([
      { channel: 'sms', state: 'in', method: 'api' },
      { channel: 'voicemail', state: 'in', method: 'api' },
    ]);
  });

  it('is nobody else’s to say once they left', async () => {
    await world.texts(phone(1), 'sky');
    await world.texts(phone(1), 'STOP');
    const id = await personOf(world, phone(1));
    const refused = await attest(id, ALERTS);
    expect(refused).toMatchObject({ ok: false });
    expect(JSON.stringify(refused)).toContain('Only they can come back');
    expect((await states(id)).map(({ state }) => state)).toEqual(['out']);
  });

  it.each([
    ['an unknown program', { ...ALERTS, program: 'None' }, 'consent.program'],
    ['an address they have not', { ...ALERTS, channel: 'email' as const }, 'consent.channel'],
  ])('is refused for %s', async (_, consent, field) => {
    const id = await somebody();
    expect(await attest(id, consent)).toMatchObject({ reason: { problems: [{ field }] } });
    expect(await states(id)).toEqual([]);
  });

  it('is refused in the future, and of nobody', async () => {
    const id = await somebody();
    const later = { ...ALERTS, obtained_at: toIso(world.clock.at + HOUR) };
    expect(await attest(id, later)).toMatchObject({
      reason: { problems: [{ field: 'consent.obtained_at' }] },
    });
    expect(await attest('per_none', ALERTS)).toMatchObject({ reason: { code: 'not-found' } });
  });
});
