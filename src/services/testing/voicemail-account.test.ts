import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { voicemailDropper } from '@/gateways/voicemail/dropper';
import { readDropsTold, type DropTold } from '@/gateways/voicemail/told';
import { SimulatedCarrier } from '@/standins/carrier';
import { BenchClock } from '@/standins/clock';
import { SimulatedDropper } from '@/standins/dropper';
import { NO_FAULTS } from '@/standins/faults';
import { Handsets } from '@/standins/handsets';
import { spokenWave } from './voicemail';
import { Wire } from './wire';

/** Both ends of the wire, which share no code, each held to what `docs/formats/voicemail-account.json` says. */
const wire = new Wire('docs/formats/voicemail-account.json', (request, response) =>
  bench.take(request, response, request.url!),
);
const clock = new BenchClock(null);
const handsets = new Handsets();
const carrier = new SimulatedCarrier({ systemId: 'x', password: 'y' }, clock, handsets);
carrier.faults = { ...NO_FAULTS };
let bench: SimulatedDropper;
let told: DropTold[] = [];
const dropper = voicemailDropper(['127.0.0.1']);
let access = { url: '', account: 'juniper', token: 'bench' };

beforeAll(async () => {
  await wire.open((body) => told.push(...readDropsTold(body)!));
  access = { ...access, url: wire.url };
});
afterAll(() => wire.close());
beforeEach(async () => {
  told = [];
  wire.wrong.length = 0;
  bench = new SimulatedDropper(null, clock, handsets, carrier);
  bench.moods = { ...bench.moods, ring_ms: 1 };
  await dropper.register(access, {
    url: wire.back,
    secret: `whsec_${Buffer.from('secret').toString('base64')}`,
  });
});

const until = async (holds: () => boolean): Promise<void> => {
  for (let i = 0; i < 300 && !holds(); i++) await new Promise((resolve) => setTimeout(resolve, 10));
  expect(holds()).toBe(true);
};
const drop = (reference: string, to: string, recording: string) =>
  dropper.drop(access, { reference, to, from: '+17195550110', recording });

describe('both ends of the wire', () => {
  it('agree with the document from the recording to what became of it', async () => {
    expect(await dropper.account(access)).toEqual({
      ok: true,
      value: { name: 'Juniper Gap Observatory', state: 'open', price: 4 },
    });
    expect(await drop('a', '+13035550101', 'none')).toMatchObject({
      kind: 'refused',
      reason: 'recording-refused',
    });
    const brought = await dropper.bring(access, 'vrc_1', spokenWave(5));
    if (!brought.ok) throw new Error(brought.reason.why);
    expect(await drop('b', '+13035550101', brought.value)).toMatchObject({ kind: 'taken' });
    // A phone rings once for a reference.
    expect(await drop('b', '+13035550101', brought.value)).toMatchObject({ kind: 'taken' });
    for (const behaviour of [
      'box-full',
      'answers',
      'no-voicemail',
      'landline',
      'refused',
      'unknown-number',
    ] as const) {
      handsets.get(`+1303555011${behaviour.length % 10}`).behaviour = behaviour;
      await drop(behaviour, `+1303555011${behaviour.length % 10}`, brought.value);
      await until(() => told.some((one) => 'reference' in one && one.reference === behaviour));
    }
    expect(handsets.find('+13035550101')!.texts).toHaveLength(1);
    expect(told.filter(({ kind }) => kind === 'left')).toEqual([{ kind: 'left', reference: 'b' }]);
    expect([await dropper.has(access, 'b'), await dropper.has(access, 'nothing')]).toEqual([true, false]);
    bench.setAccount('juniper', 'closed');
    await until(() => told.some(({ kind }) => kind === 'account'));
    expect(await drop('z', '+13035550102', brought.value)).toMatchObject({ kind: 'refused' });
    expect(wire.wrong).toEqual([]);
  });

  it('say what is no recording, and know no stranger', async () => {
    expect(await dropper.bring(access, 'x', Buffer.from('hello'))).toMatchObject({
      ok: false,
      reason: { kind: 'refused', why: 'Bring a WAVE file.' },
    });
    expect(await dropper.account({ ...access, token: 'guessed' })).toMatchObject({ ok: false });
    expect(wire.wrong).toEqual([]);
  });

  it('know that nobody can be asked where nobody is', async () => {
    const nowhere = { ...access, url: 'http://127.0.0.1:9' };
    expect(await dropper.has(nowhere, 'b')).toBeNull();
    expect(
      await dropper.drop(nowhere, {
        reference: 'b',
        to: '+13035550101',
        from: '+17195550110',
        recording: 'r',
      }),
    ).toEqual({
      kind: 'not-written',
    });
  });
});
