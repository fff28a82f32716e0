import { basename } from 'node:path';
import { defineConfig, type Options } from '@mikro-orm/postgresql';
import { ENTITIES } from '@/db/entities';

/** `web`, `worker`, a command: by the file it runs. */
const processName = (): string => basename(process.argv[1] ?? 'process', '.js');

export const ormConfig = (databaseUrl: string, poolSize = 10): Options =>
  defineConfig({
    clientUrl: databaseUrl,
    entities: ENTITIES,
    discovery: { disableDynamicFileAccess: true },
    forceUtcTimezone: true,
    ignoreUndefinedInQuery: false,
    allowGlobalContext: false,
    pool: { min: 0, max: poolSize },
    driverOptions: {
      connection: {
        // So that who looks at the database sees whose connection it is.
        application_name: `steady-wren ${processName()}`,
        // Compiling a plan takes longer than what is asked here, however dear the planner thinks it.
        options: '-c jit=off',
      },
    },
  });
