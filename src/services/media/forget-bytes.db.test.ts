import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { workThrough } from '@/services/kit/trouble';
import { giveUp, readTroubles } from '@/services/stuck';
import { makeWorld, type World } from '@/services/testing/world';
import { GONE_FILE_QUEUE } from './forget-bytes';

let world: World;
let server: Server;
/** What the store was asked to forget; it refuses the locked one. */
let asked: string[] = [];

beforeEach(async () => {
  world = await makeWorld();
  asked = [];
  server = createServer((request, response) => {
    void request.toArray().then((chunks) => {
      const body = Buffer.concat(chunks as Buffer[]).toString();
      const keys = [...body.matchAll(/<Key>([^<]+)</g)].map(([, key]) => key!);
      asked.push(...keys);
      const refused = keys.filter((key) => key === 'pic_locked');
      response.end(
        `<DeleteResult>${refused.map((key) => `<Error><Key>${key}</Key><Code>AccessDenied</Code></Error>`).join('')}</DeleteResult>`,
      );
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  vi.stubEnv('WREN_S3_ENDPOINT', `http://127.0.0.1:${(server.address() as AddressInfo).port}`);
  vi.stubEnv('WREN_S3_BUCKET', 'files');
  vi.stubEnv('WREN_S3_KEY_ID', 'me');
  vi.stubEnv('WREN_S3_SECRET', 'secret');
});
afterEach(async () => {
  vi.unstubAllEnvs();
  server.close();
  await world.close();
});

it('forgets the bytes of each file by itself: one that a store keeps shows why, and is over when somebody says so', async () => {
  await world.rows(
    `insert into media_gone (id, workspace_id, at) select id, :workspace, now() from unnest(array['pic_locked', 'pic_a', 'pic_b']) id returning id`,
  );
  expect(await workThrough(world.ctx, GONE_FILE_QUEUE)).toBe(2);
  expect(asked).toEqual(expect.arrayContaining(['pic_a', 'pic_a.small', 'pic_b', 'pic_locked']));
  const left = () => world.rows<{ id: string }>(`select id from media_gone where workspace_id = :workspace`);
  expect(await left()).toEqual([{ id: 'pic_locked' }]);
  expect(await world.within((scope) => readTroubles(scope))).toMatchObject([
    { queue: 'gone-file', row_id: 'pic_locked', problem: expect.stringContaining('AccessDenied') },
  ]);
  await world.within((scope) => giveUp(world.ctx, scope, 'gone-file', 'pic_locked', 'test'));
  expect(await left()).toEqual([]);
});
