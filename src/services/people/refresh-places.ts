import type { MikroORM } from '@mikro-orm/postgresql';
import { placeColumns, placeOf } from '@/core/phone/place';
import { acrossWorkspaces } from '@/db/kit/scope';

interface Row {
  id: string;
  number: string | null;
  zone: string | null;
  region: string | null;
  postal_code: string | null;
}

const SLICE = 5_000;

/** Works out the place of everybody who has none yet: after a migration that added it, and after loading the demo. */
export async function refreshPlaces(orm: MikroORM): Promise<void> {
  for (;;) {
    const done = await acrossWorkspaces(orm, async (crossing) => {
      const rows = await crossing.rows<Row>(
        `select id, number, zone, region, postal_code from person where place_zones is null and erased_at is null limit :most`,
        { most: SLICE },
      );
      const places = rows.map((row) => placeColumns(placeOf({ ...row, postalCode: row.postal_code })));
      await crossing.run(
        `update person p set place_region = u.region, place_zones = string_to_array(u.zones, ' ')
           from unnest(:ids::text[], :regions::text[], :zones::text[]) as u (id, region, zones) where p.id = u.id`,
        {
          ids: rows.map(({ id }) => id),
          regions: places.map(({ region }) => region),
          zones: places.map(({ zones }) => zones.join(' ')),
        },
      );
      return rows.length < SLICE;
    });
    if (done) return;
  }
}
