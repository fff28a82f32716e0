import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { EMPTY_BRAND, EMPTY_PROGRAM, type BrandFile, type ProgramFile } from '@/core/registration/file';
import { readRegistrarTold, registrarOver } from '@/gateways/registrar/registrar';
import { BenchClock } from '@/standins/clock';
import { SimulatedRegistrar } from '@/standins/registrar';
import { Wire } from './wire';

/** Both ends of the wire, which share no code, each held to what `docs/formats/registrar.json` says. */
const wire = new Wire('docs/formats/registrar.json', (request, response) =>
  bench.take(request, response, request.url!),
);
let bench: SimulatedRegistrar;
let told: string[] = [];
const registrar = registrarOver(['127.0.0.1']);
let access = { url: '', account: 'juniper', token: 'bench' };

const BRAND: BrandFile = {
  ...EMPTY_BRAND,
  ...{ legalName: 'Juniper Gap Observatory Society', website: 'https://x.test', street: '1 Ridge Road' },
};
const PROGRAM: ProgramFile = {
  ...EMPTY_PROGRAM,
  ...{ business: 'Juniper Gap Observatory', name: 'Clear Sky Alerts', purpose: 'recurring', perMonth: 9 },
  ...{
    often: 'Up to 6 msgs/month',
    samples: ['One.', 'Two.'],
    confirmation: 'x',
    question: '',
    help: 'x',
    stop: 'x',
  },
  ways: [{ kind: 'keyword', name: 'SKY', words: 'Text SKY', place: '/hidden', lacks: [] }],
};

beforeAll(async () => {
  await wire.open((body) => told.push(...readRegistrarTold(body)!.references));
  access = { ...access, url: wire.url };
});
afterAll(() => wire.close());
beforeEach(async () => {
  told = [];
  wire.wrong.length = 0;
  bench = new SimulatedRegistrar(null, new BenchClock(null));
  bench.setMoods({ brand_after: 'PT0S', program_after: 'PT0S', number_after: 'PT0S' });
  await registrar.register(access, {
    url: wire.back,
    secret: `whsec_${Buffer.from('secret').toString('base64')}`,
  });
});

const until = async (holds: () => boolean): Promise<void> => {
  for (let i = 0; i < 300 && !holds(); i++) await new Promise((resolve) => setTimeout(resolve, 10));
  expect(holds()).toBe(true);
};
const handIn = (reference: string, file: BrandFile | ProgramFile, needs: string[] = [], version = 1) =>
  registrar.handIn(access, reference, {
    ...{ about: 'ways' in file ? 'program' : 'brand', needs, version, file },
  });
const standing = async (reference: string) => {
  const asked = await registrar.ask(access, reference);
  if (!asked.ok) throw new Error(asked.reason.why);
  return asked.value;
};

describe('both ends of the wire', () => {
  it('agree with the document from the file to the answer to a question', async () => {
    expect(await registrar.account(access)).toMatchObject({ ok: true, value: { state: 'open' } });
    expect(await handIn('p', PROGRAM, ['b'])).toMatchObject({ ok: false, reason: { kind: 'refused' } });
    expect(await handIn('b', BRAND)).toMatchObject({ ok: true, value: { event: null } });
    await until(() => told.includes('b'));
    expect(await standing('b')).toMatchObject({ event: 'register', version: 1 });
    await handIn('p', { ...PROGRAM, often: 'Recurring msgs' }, ['b']);
    await until(() => told.includes('p'));
    const asked = (await standing('p'))!;
    expect(asked).toMatchObject({ event: 'ask', questions: [{ field: 'often' }] });
    expect(await registrar.answer(access, 'p', asked.questions[0]!.key, 'On the poster.')).toMatchObject({
      ok: true,
    });
    await until(() => told.filter((one) => one === 'p').length >= 3);
    expect(await standing('p')).toMatchObject({ event: 'register', questions: [] });
    expect(wire.wrong).toEqual([]);
  });

  it('take a version once, and review a newer one while the old one counts', async () => {
    await handIn('b', BRAND);
    await handIn('b', BRAND);
    expect(bench.counts.taken).toBe(1);
    await until(() => told.includes('b'));
    bench.setMoods({ reviewer: 'refusing' });
    await handIn('b', { ...BRAND, about: 'more' }, [], 2);
    await until(() => told.filter((one) => one === 'b').length >= 2);
    expect(await standing('b')).toMatchObject({
      event: 'register',
      version: 1,
      change: { version: 2, state: 'refused' },
    });
    expect(wire.wrong).toEqual([]);
  });

  it('agree on what is refused, taken back and unknown', async () => {
    await handIn('b', { ...BRAND, street: '' });
    await until(() => told.includes('b'));
    expect((await standing('b'))!.reason).toContain('street');
    expect(await registrar.takeBack(access, 'b')).toMatchObject({ ok: true });
    expect(await standing('b')).toBeNull();
    expect(await registrar.takeBack(access, 'b')).toMatchObject({ ok: true });
    expect(await registrar.account({ ...access, token: 'guessed' })).toMatchObject({
      ok: false,
      reason: { kind: 'refused' },
    });
    expect(await registrar.ask({ ...access, url: 'http://127.0.0.1:9' }, 'b')).toMatchObject({
      reason: { kind: 'unreachable' },
    });
    expect(wire.wrong).toEqual([]);
  });
});
