import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Registration } from '@/db/registration/entities';
import { workThrough } from '@/services/kit/trouble';
import { connectRegistrar, REGISTRAR_QUEUE } from '@/services/registration/accounts';
import type { Subject } from '@/services/registration/applications';
import { keepBrand, keepProgramFile } from '@/services/registration/files';
import { REGISTRATION_QUEUE } from '@/services/registration/review';
import type { BenchClock } from '@/standins/clock';
import { SimulatedRegistrar } from '@/standins/registrar';
import { registrarCalls, registrarDoor } from '@/web/registrar-door';
import { letTellerIn } from '@/web/signed-door';
import { must } from './people';
import type { World } from './world';

const listening = (server: Server): Promise<number> =>
  new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)),
  );

export const BY_US = { accountId: null, name: 'system' };

export const TOLD_BRAND = {
  ...{ legal_name: 'Juniper Gap Observatory Society', form: 'nonprofit' as const, tax_number: '12-3456789' },
  about: 'A public observatory with a planetarium dome, a gift shop and school visits.',
  ...{ website: 'https://juniper-gap.example.org', street: '1 Ridge Road', city: 'Juniper Gap', state: 'CO' },
  ...{ postal_code: '81201', contact_name: 'Odile Marchetti', contact_email: 'desk@juniper-gap.example.org' },
  contact_phone: '(719) 555-0110',
};

export const TOLD_PROGRAM = {
  about: 'People who asked for it are told when the sky over the hill is clear enough to come.',
  content: ['events' as const],
  samples: [
    'Juniper Gap Observatory: clear tonight, doors at 8 pm. Reply STOP to stop.',
    'Juniper Gap Observatory: Saturn is up from nine. Bring a coat.',
  ],
};

/** A registrar and our own door for what it tells, over HTTP; `world` is asked at each use. */
export class RegistrarDesk {
  bench!: SimulatedRegistrar;
  url = '';
  #servers: Server[] = [];
  #calls = 0;

  constructor(readonly world: () => World) {}

  async open(): Promise<void> {
    const contextOf = () => Promise.resolve(this.world().ctx);
    const door = createServer((request, response) => {
      const called = registrarCalls(request.method, request.url ?? '');
      if (called === null) return void response.writeHead(503).end();
      this.#calls += 1;
      response.once('close', () => (this.#calls -= 1));
      void letTellerIn(registrarDoor(contextOf, called), request, response);
    });
    process.env.WREN_PUBLIC_URL = `http://127.0.0.1:${await listening(door)}`;
    const inside = createServer(
      (request, response) => void this.bench.take(request, response, request.url ?? ''),
    );
    this.url = `http://127.0.0.1:${await listening(inside)}`;
    this.#servers = [door, inside];
  }

  /** A registrar that knows nothing, whose reviews take no time. */
  anew(): void {
    const clock = { now: () => this.world().clock.at, onMove: () => () => {} } as unknown as BenchClock;
    this.bench = new SimulatedRegistrar(null, clock);
    this.bench.setMoods({ brand_after: 'PT0S', program_after: 'PT0S', number_after: 'PT0S' });
  }

  async quiet(): Promise<void> {
    for (const account of this.bench.accounts) account.callbacks = null;
    for (let i = 0; i < 300 && this.#calls > 0; i++) await new Promise((resolve) => setTimeout(resolve, 10));
  }

  close(): void {
    delete process.env.WREN_PUBLIC_URL;
    this.#servers.forEach((server) => server.close());
  }

  async connect(account = 'juniper', token = 'bench'): Promise<void> {
    const { ctx, within } = this.world();
    must(await within((scope) => connectRegistrar(ctx, scope, { url: this.url, account, token }, BY_US)));
    await workThrough(ctx, REGISTRAR_QUEUE);
  }

  brand = (more: object = {}) => {
    const { ctx, within } = this.world();
    return within((scope) => keepBrand(ctx, scope, { stamp: 0, ...TOLD_BRAND, ...more }, BY_US));
  };

  program = (id: string, more: object = {}) => {
    const { ctx, within } = this.world();
    return within((scope) => keepProgramFile(ctx, scope, id, { stamp: 0, ...TOLD_PROGRAM, ...more }, BY_US));
  };

  work = (): Promise<number> => workThrough(this.world().ctx, REGISTRATION_QUEUE);

  standing = ({ about, id }: Subject): Promise<Registration> =>
    this.world().within((scope) => scope.em.findOneOrFail(Registration, { about, subject: id }));

  /** Works until it stands so; the clock goes on meanwhile. */
  async until(subject: Subject, state: Registration['state']): Promise<Registration> {
    for (let i = 0; i < 200; i++) {
      await this.work();
      const row = await this.standing(subject);
      if (row.state === state) return row;
      await new Promise((resolve) => setTimeout(resolve, 20));
      this.world().clock.at += 1_000;
    }
    throw new Error(`It never was ${state}, but ${(await this.standing(subject)).state}.`);
  }
}
