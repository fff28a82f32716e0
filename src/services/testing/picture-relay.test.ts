import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { readArrival, type Arrival } from '@/gateways/mm7/arrivals';
import { mm7Relay, type Relay } from '@/gateways/mm7/relay';
import { SimulatedCarrier } from '@/standins/carrier';
import { BenchClock } from '@/standins/clock';
import { NO_FAULTS, type Behaviour } from '@/standins/faults';
import { Handsets } from '@/standins/handsets';
import { SimulatedRelay } from '@/standins/relay';

/** Both ends of the wire: our gateway, and the bench's relay, which share no code. */
const clock = new BenchClock(null);
const handsets = new Handsets();
const carrier = new SimulatedCarrier({ systemId: 'x', password: 'y' }, clock, handsets);
let bench: SimulatedRelay;
let relay: Relay;
let servers: Server[];
let arrived: Arrival[];
/** So often our door is busy before it takes anything. */
let busy = 0;

const listening = (server: Server): Promise<number> =>
  new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)),
  );

beforeAll(async () => {
  const door = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      if (busy-- > 0) return response.writeHead(503).end();
      const arrival = readArrival(request.headers['content-type'] ?? '', Buffer.concat(chunks))!;
      arrived.push(arrival);
      response.end(arrival.answer);
    });
  });
  const back = `http://127.0.0.1:${await listening(door)}/`;
  bench = new SimulatedRelay({ user: 'wren', password: 'secret', back }, clock, handsets, carrier);
  const server = createServer((request, response) => void bench.take(request, response));
  const url = `http://127.0.0.1:${await listening(server)}/mm7`;
  relay = mm7Relay({
    ...{ url, user: 'wren', password: 'secret', vaspId: 'a', vasId: 'b', atOnce: 5, timeoutMs: 5_000 },
  });
  servers = [door, server];
});
afterAll(() => servers.forEach((server) => server.close()));
beforeEach(() => {
  arrived = [];
  busy = 0;
  carrier.faults = { ...NO_FAULTS, receipt_latency_ms: 1 };
});

let people = 0;
const send = (behaviour: Behaviour = 'normal', size = 2_000) => {
  const to = `+1303555${String(1_000 + people++)}`;
  handsets.get(to).behaviour = behaviour;
  const files = [{ name: 'a.jpg', type: 'image/jpeg', bytes: Buffer.alloc(size, '\r\n--') }];
  const at = new Date('2026-11-27T10:00:00Z');
  const picture = { transactionId: 't', from: '+17195550110', to, text: 'Grüße 🪐', files, at, expires: at };
  return relay.send(picture).then((outcome) => ({ to, outcome, files }));
};

/** What our door was brought, once there is enough of it. */
async function brought(count: number): Promise<Arrival[]> {
  while (arrived.length < count) await new Promise((resolve) => setTimeout(resolve, 5));
  return arrived;
}

describe('a picture message between our gateway and a relay', () => {
  it('arrives as it was sent, and its receipt comes back, though our door was busy', async () => {
    busy = 2;
    const { to, outcome, files } = await send();
    const shown = handsets.get(to).texts[0]!;
    expect(shown).toMatchObject({
      body: 'Grüße 🪐',
      from: '+17195550110',
      files: [{ size: files[0]!.bytes.length }],
    });
    expect(bench.file(shown.files![0]!.id)!.bytes.equals(files[0]!.bytes)).toBe(true);
    const [receipt] = await brought(1);
    expect(receipt).toMatchObject({ kind: 'receipt', receipt: { stat: 'DELIVRD', number: to } });
    expect(outcome).toEqual({
      kind: 'taken',
      carrierId: receipt!.kind === 'receipt' ? receipt!.receipt.carrierId : '',
    });
  });

  it.each<[Behaviour, object]>([
    ['off', { stat: 'EXPIRED', failure: 'unreachable' }],
    ['no-pictures', { stat: 'REJECTD', failure: 'no-pictures' }],
    ['spam-blocked', { stat: 'REJECTD', failure: 'refused' }],
  ])('to a handset that is %s is told later', async (behaviour, receipt) => {
    const { to, outcome } = await send(behaviour);
    expect(outcome.kind).toBe('taken');
    expect((await brought(1))[0]).toMatchObject({ receipt: { number: to, ...receipt } });
    expect(handsets.get(to).texts).toEqual([]);
  });

  it.each<[Behaviour, number, object]>([
    ['unknown-number', 2_000, { kind: 'refused', reason: 'number-unknown' }],
    ['refused', 2_000, { kind: 'refused', reason: 'refused' }],
    ['normal', 1_100_000, { kind: 'refused', reason: 'picture-refused' }],
  ])('to a handset that is %s, of %d bytes, is refused at once', async (behaviour, size, outcome) =>
    expect((await send(behaviour, size)).outcome).toMatchObject(outcome),
  );

  it('whose line is cut may have been taken: nobody knows', async () => {
    carrier.faults.picture_cut_share = 1;
    expect((await send()).outcome).toEqual({ kind: 'unknown' });
  });

  it('comes from a handset with every byte of its files', async () => {
    const bytes = Buffer.from(Array.from({ length: 5_000 }, (_, i) => (i * 31) & 255));
    await bench.inbound('+13035550101', '+17195550110', 'Stop, bitte', [
      { name: 'x.png', type: 'image/png', bytes },
    ]);
    const [arrival] = await brought(1);
    expect(arrival).toMatchObject({
      picture: { from: '+13035550101', to: '+17195550110', text: 'Stop, bitte', files: [{ name: 'x.png' }] },
    });
    expect(arrival?.kind === 'picture' && arrival.picture.files[0]!.bytes.equals(bytes)).toBe(true);
  });
});
