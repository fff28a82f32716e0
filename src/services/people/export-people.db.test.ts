import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { exportPeople, exportPerson } from './export-people';
import { addPerson, must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);
const add = (number: string, more: object = {}) => addPerson(world, number, more);

describe('an export', () => {
  it('is exported whole, and to nobody else', async () => {
    await world.texts('+13035550101', 'sky');
    const [person] = await rows<{ id: string }>(`select id from person where workspace_id = :workspace`);
    const data = (await world.within((scope) => exportPerson(scope, person!.id))) as Record<
      string,
      unknown[]
    >;
    expect([data.consent!.length, data.texts!.length, data.received!.length]).toEqual([1, 1, 1]);
    expect(await world.within((scope) => exportPerson(scope, person!.id), 'another')).toBeNull();
  });

  it.each(['csv', 'xlsx', 'vcard'] as const)(
    'exported as %s stands in the file with a number that is one',
    async (format) => {
      const ana = await add('3035550101', { first_name: '=1+1', last_name: 'Ortiz' });
      await add('3035550102', { first_name: 'Ben' });
      const read = async (meant: Parameters<typeof exportPeople>[3]) => {
        const file = must(
          await exportPeople(world.ctx.orm, world.workspaceId, format, meant, world.clock.at),
        );
        return Buffer.from(
          new Uint8Array(
            file.body instanceof Uint8Array ? file.body : await new Response(file.body).arrayBuffer(),
          ),
        );
      };
      const one = await read({ kind: 'ids', ids: [ana] });
      const all = await read({ kind: 'all', condition: '', search: '' });
      if (format === 'xlsx') return expect(all.subarray(0, 2).toString()).toBe('PK');
      expect(one.toString()).toContain('+13035550101');
      expect(one.toString()).not.toContain('+13035550102');
      expect(all.toString()).toContain('+13035550102');
      if (format === 'csv') expect(one.toString()).toContain(`+13035550101,'=1+1`);
    },
  );
});
