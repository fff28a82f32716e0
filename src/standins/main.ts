import { join } from 'node:path';
import { SimulatedCarrier } from './carrier';
import { BenchClock } from './clock';
import { NetworkBook } from './chat/book';
import { SimulatedNetwork } from './chat/network';
import { Handsets } from './handsets';
import { serveBench } from './http';
import { Mailboxes } from './mailboxes';
import { serveNames } from './names';
import { SimulatedDropper } from './dropper';
import { SimulatedRegistrar } from './registrar';
import { SimulatedStock } from './stock';
import { Portals } from './portals';
import { SimulatedSwitchboard } from './switchboard';
import { SimulatedRelay } from './relay';

/** The test bench: a simulated outside world, reached over SMPP and HTTP on loopback. */
async function main(): Promise<void> {
  const dataDir = process.env.WREN_DATA_DIR;
  const clock = new BenchClock(dataDir ? join(dataDir, 'bench-clock.json') : null);
  const handsets = new Handsets();
  const systemId = process.env.WREN_SMPP_SYSTEM_ID ?? 'wren';
  const password = process.env.WREN_SMPP_PASSWORD ?? 'bench';
  const carrier = new SimulatedCarrier({ systemId, password }, clock, handsets);
  const second = new SimulatedCarrier({ systemId: 'second', password: 'bench' }, clock, handsets);
  const relay = new SimulatedRelay(
    {
      user: process.env.WREN_MM7_USER ?? 'wren',
      password: process.env.WREN_MM7_PASSWORD ?? 'bench',
      back: process.env.WREN_MM7_BACK ?? 'http://127.0.0.1:4400/mm7/bench',
    },
    ...([clock, handsets, carrier] as const),
  );
  const chat = new SimulatedNetwork(
    new NetworkBook(dataDir ? join(dataDir, 'bench-chat.json') : null),
    ...([clock, handsets, carrier] as const),
  );
  const dropper = new SimulatedDropper(
    dataDir ? join(dataDir, 'bench-voicemail.json') : null,
    ...([clock, handsets, carrier] as const),
  );
  const stock = new SimulatedStock(dataDir ? join(dataDir, 'bench-stock.json') : null);
  const registrar = new SimulatedRegistrar(dataDir ? join(dataDir, 'bench-registrar.json') : null, clock);
  const board = new SimulatedSwitchboard(clock, dataDir ? join(dataDir, 'bench-calls.json') : null);
  const smppPort = await carrier.listen(Number(process.env.WREN_SMPP_PORT ?? 4402));
  const benchPort = Number(process.env.WREN_BENCH_PORT ?? 4401);
  const secondPort = await second.listen(Number(process.env.WREN_SECOND_SMPP_PORT ?? benchPort + 5));
  const door = { host: '127.0.0.1', port: Number(process.env.WREN_MAIL_IN_PORT ?? 4404) };
  const mailboxes = new Mailboxes(clock, door);
  const portals = new Portals(clock, door, dataDir ? join(dataDir, 'bench-portals.json') : null);
  const mailPort = await mailboxes.listen(Number(process.env.WREN_MAIL_PORT ?? 4403));
  // Names are asked over UDP, so the port of the page is free for them.
  await serveNames(() => portals.records(), benchPort);
  const port = await serveBench(
    { clock, handsets, carrier, second, mailboxes, relay, chat, portals, dropper, board, registrar, stock },
    benchPort,
  );
  // The starting process reads this line: ports may have been chosen by the system.
  console.log(JSON.stringify({ ready: 'bench', port, smppPort, secondPort, mailPort }));
}

process.on('SIGTERM', () => process.exit(0));
process.on('SIGINT', () => process.exit(0));
main().catch((error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? 'The test bench cannot start: its port is taken. Set WREN_BENCH_PORT, WREN_SMPP_PORT, WREN_SECOND_SMPP_PORT and WREN_MAIL_PORT to free ones.'
      : error,
  );
  process.exit(1);
});
