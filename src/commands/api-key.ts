import { getOrm } from '@/db/kit/orm';
import { inWorkspace } from '@/db/kit/scope';
import { createApiKey, workspaceBySlug } from '@/services/access/api-keys';
import { makeContext } from '@/services/context';

/** `api-key --workspace SLUG [--name NAME]` prints a fresh key and nothing else. */
const argument = (name: string): string | undefined => {
  const at = process.argv.indexOf(`--${name}`);
  return at >= 0 ? process.argv[at + 1] : undefined;
};

function fail(message: string): never {
  console.error(message);
  process.exit(1);
}

const slug = argument('workspace') ?? fail('Say which workspace: api-key --workspace juniper-gap');
const orm = getOrm();
const ctx = makeContext(orm, () => Date.now());
const workspace = (await workspaceBySlug(orm, slug)) ?? fail(`There is no workspace "${slug}".`);
console.log(
  await inWorkspace(orm, workspace.id, (scope) =>
    createApiKey(ctx, scope, argument('name') ?? 'command line', 'command'),
  ),
);
await orm.close(true);
process.exit(0);
