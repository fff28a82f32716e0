import { Migrator } from '@mikro-orm/migrations';
import type { MikroORM } from '@mikro-orm/postgresql';
import { Migration20261123000001 } from '@/db/migrations/Migration20261123000001';
import { Migration20261123000002 } from '@/db/migrations/Migration20261123000002';
import { Migration20261123000003 } from '@/db/migrations/Migration20261123000003';
import { Migration20261123000004 } from '@/db/migrations/Migration20261123000004';
import { Migration20261124000005 } from '@/db/migrations/Migration20261124000005';
import { Migration20261125000006 } from '@/db/migrations/Migration20261125000006';
import { Migration20261125000007 } from '@/db/migrations/Migration20261125000007';
import { Migration20261125000008 } from '@/db/migrations/Migration20261125000008';
import { Migration20261125000009 } from '@/db/migrations/Migration20261125000009';
import { Migration20261126000010 } from '@/db/migrations/Migration20261126000010';
import { Migration20261126000011 } from '@/db/migrations/Migration20261126000011';
import { Migration20261126000012 } from '@/db/migrations/Migration20261126000012';
import { Migration20261126000013 } from '@/db/migrations/Migration20261126000013';
import { Migration20261126000014 } from '@/db/migrations/Migration20261126000014';
import { Migration20261126000015 } from '@/db/migrations/Migration20261126000015';
import { Migration20261126000016 } from '@/db/migrations/Migration20261126000016';
import { Migration20261126000017 } from '@/db/migrations/Migration20261126000017';
import { Migration20261126000018 } from '@/db/migrations/Migration20261126000018';
import { Migration20261126000019 } from '@/db/migrations/Migration20261126000019';
import { Migration20261126000020 } from '@/db/migrations/Migration20261126000020';
import { Migration20261126000021 } from '@/db/migrations/Migration20261126000021';
import { Migration20261126000022 } from '@/db/migrations/Migration20261126000022';
import { Migration20261126000023 } from '@/db/migrations/Migration20261126000023';
import { Migration20261126000024 } from '@/db/migrations/Migration20261126000024';
import { Migration20261126000025 } from '@/db/migrations/Migration20261126000025';
import { Migration20261127000026 } from '@/db/migrations/Migration20261127000026';
import { Migration20261127000027 } from '@/db/migrations/Migration20261127000027';
import { Migration20261127000028 } from '@/db/migrations/Migration20261127000028';
import { Migration20261127000029 } from '@/db/migrations/Migration20261127000029';
import { Migration20261127000030 } from '@/db/migrations/Migration20261127000030';
import { Migration20261127000031 } from '@/db/migrations/Migration20261127000031';
import { Migration20261127000032 } from '@/db/migrations/Migration20261127000032';
import { Migration20261127000033 } from '@/db/migrations/Migration20261127000033';
import { Migration20261127000034 } from '@/db/migrations/Migration20261127000034';
import { Migration20261127000035 } from '@/db/migrations/Migration20261127000035';
import { Migration20261127000036 } from '@/db/migrations/Migration20261127000036';
import { Migration20261127000037 } from '@/db/migrations/Migration20261127000037';
import { Migration20261127000038 } from '@/db/migrations/Migration20261127000038';
import { Migration20261127000039 } from '@/db/migrations/Migration20261127000039';
import { Migration20261128000040 } from '@/db/migrations/Migration20261128000040';
import { Migration20261128000041 } from '@/db/migrations/Migration20261128000041';
import { Migration20261128000042 } from '@/db/migrations/Migration20261128000042';
import { Migration20261128000045 } from '@/db/migrations/Migration20261128000045';
import { Migration20261128000046 } from '@/db/migrations/Migration20261128000046';
import { Migration20261128000047 } from '@/db/migrations/Migration20261128000047';
import { Migration20261128000048 } from '@/db/migrations/Migration20261128000048';
import { Migration20261128000049 } from '@/db/migrations/Migration20261128000049';
import { Migration20261128000050 } from '@/db/migrations/Migration20261128000050';
import { Migration20261128000051 } from '@/db/migrations/Migration20261128000051';
import { Migration20261128000052 } from '@/db/migrations/Migration20261128000052';
import { Migration20261128000053 } from '@/db/migrations/Migration20261128000053';
import { Migration20261128000054 } from '@/db/migrations/Migration20261128000054';
import { Migration20261129000055 } from '@/db/migrations/Migration20261129000055';
import { Migration20261129000056 } from '@/db/migrations/Migration20261129000056';
import { Migration20261129000057 } from '@/db/migrations/Migration20261129000057';
import { Migration20261129000058 } from '@/db/migrations/Migration20261129000058';
import { Migration20261129000059 } from '@/db/migrations/Migration20261129000059';
import { Migration20261129000060 } from '@/db/migrations/Migration20261129000060';
import { Migration20261129000061 } from '@/db/migrations/Migration20261129000061';
import { Migration20261129000062 } from '@/db/migrations/Migration20261129000062';
import { Migration20261129000063 } from '@/db/migrations/Migration20261129000063';
import { Migration20261129000064 } from '@/db/migrations/Migration20261129000064';
import { Migration20261130000065 } from '@/db/migrations/Migration20261130000065';
import { Migration20261130000066 } from '@/db/migrations/Migration20261130000066';
import { Migration20261201000067 } from '@/db/migrations/Migration20261201000067';
import { Migration20261201000068 } from '@/db/migrations/Migration20261201000068';
import { Migration20261128000044 } from '@/db/migrations/Migration20261128000044';
import { Migration20261128000043 } from '@/db/migrations/Migration20261128000043';

const MIGRATIONS = [
  { name: 'Migration20261123000001', class: Migration20261123000001 },
  { name: 'Migration20261123000002', class: Migration20261123000002 },
  { name: 'Migration20261123000003', class: Migration20261123000003 },
  { name: 'Migration20261123000004', class: Migration20261123000004 },
  { name: 'Migration20261124000005', class: Migration20261124000005 },
  { name: 'Migration20261125000006', class: Migration20261125000006 },
  { name: 'Migration20261125000007', class: Migration20261125000007 },
  { name: 'Migration20261125000008', class: Migration20261125000008 },
  { name: 'Migration20261125000009', class: Migration20261125000009 },
  { name: 'Migration20261126000010', class: Migration20261126000010 },
  { name: 'Migration20261126000011', class: Migration20261126000011 },
  { name: 'Migration20261126000012', class: Migration20261126000012 },
  { name: 'Migration20261126000013', class: Migration20261126000013 },
  { name: 'Migration20261126000014', class: Migration20261126000014 },
  { name: 'Migration20261126000015', class: Migration20261126000015 },
  { name: 'Migration20261126000016', class: Migration20261126000016 },
  { name: 'Migration20261126000017', class: Migration20261126000017 },
  { name: 'Migration20261126000018', class: Migration20261126000018 },
  { name: 'Migration20261126000019', class: Migration20261126000019 },
  { name: 'Migration20261126000020', class: Migration20261126000020 },
  { name: 'Migration20261126000021', class: Migration20261126000021 },
  { name: 'Migration20261126000022', class: Migration20261126000022 },
  { name: 'Migration20261126000023', class: Migration20261126000023 },
  { name: 'Migration20261126000024', class: Migration20261126000024 },
  { name: 'Migration20261126000025', class: Migration20261126000025 },
  { name: 'Migration20261127000026', class: Migration20261127000026 },
  { name: 'Migration20261127000027', class: Migration20261127000027 },
  { name: 'Migration20261127000028', class: Migration20261127000028 },
  { name: 'Migration20261127000029', class: Migration20261127000029 },
  { name: 'Migration20261127000030', class: Migration20261127000030 },
  { name: 'Migration20261127000031', class: Migration20261127000031 },
  { name: 'Migration20261127000032', class: Migration20261127000032 },
  { name: 'Migration20261127000033', class: Migration20261127000033 },
  { name: 'Migration20261127000034', class: Migration20261127000034 },
  { name: 'Migration20261127000035', class: Migration20261127000035 },
  { name: 'Migration20261127000036', class: Migration20261127000036 },
  { name: 'Migration20261127000037', class: Migration20261127000037 },
  { name: 'Migration20261127000038', class: Migration20261127000038 },
  { name: 'Migration20261127000039', class: Migration20261127000039 },
  { name: 'Migration20261128000040', class: Migration20261128000040 },
  { name: 'Migration20261128000041', class: Migration20261128000041 },
  { name: 'Migration20261128000042', class: Migration20261128000042 },
  { name: 'Migration20261128000043', class: Migration20261128000043 },
  { name: 'Migration20261128000044', class: Migration20261128000044 },
  { name: 'Migration20261128000045', class: Migration20261128000045 },
  { name: 'Migration20261128000046', class: Migration20261128000046 },
  { name: 'Migration20261128000047', class: Migration20261128000047 },
  { name: 'Migration20261128000048', class: Migration20261128000048 },
  { name: 'Migration20261128000049', class: Migration20261128000049 },
  { name: 'Migration20261128000050', class: Migration20261128000050 },
  { name: 'Migration20261128000051', class: Migration20261128000051 },
  { name: 'Migration20261128000052', class: Migration20261128000052 },
  { name: 'Migration20261128000053', class: Migration20261128000053 },
  { name: 'Migration20261128000054', class: Migration20261128000054 },
  { name: 'Migration20261129000055', class: Migration20261129000055 },
  { name: 'Migration20261129000056', class: Migration20261129000056 },
  { name: 'Migration20261129000057', class: Migration20261129000057 },
  { name: 'Migration20261129000058', class: Migration20261129000058 },
  { name: 'Migration20261129000059', class: Migration20261129000059 },
  { name: 'Migration20261129000060', class: Migration20261129000060 },
  { name: 'Migration20261129000061', class: Migration20261129000061 },
  { name: 'Migration20261129000062', class: Migration20261129000062 },
  { name: 'Migration20261129000063', class: Migration20261129000063 },
  { name: 'Migration20261129000064', class: Migration20261129000064 },
  { name: 'Migration20261130000065', class: Migration20261130000065 },
  { name: 'Migration20261130000066', class: Migration20261130000066 },
  { name: 'Migration20261201000067', class: Migration20261201000067 },
  { name: 'Migration20261201000068', class: Migration20261201000068 },
];

/** What brings a database to the current schema, step by step. Loaded by nobody else: a process that runs needs none of it. */
export function migratorOf(orm: MikroORM): Migrator {
  orm.config.set('migrations', {
    ...orm.config.get('migrations'),
    migrationsList: MIGRATIONS,
    snapshot: false,
    // Who brings a database up to date says so in a line, not in two for each step.
    silent: true,
    disableForeignKeys: false,
    tableName: 'migration',
  });
  return new Migrator(orm.em);
}
