import { SECOND } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { goneFiles, noteGone } from '@/db/media/files';
import { inWorkspace } from '@/db/kit/scope';
import { asDue, type Queue } from '@/services/kit/trouble';
import { removeBytes } from './store';

const AT_ONCE = 100;

/** Files whose rows are gone: their bytes follow, each by itself, since a store outside may refuse one. */
export const GONE_FILE_QUEUE: Queue = {
  name: 'gone-file',
  rows: {
    named: `(select to_char(g.at, 'YYYY-MM-DD') from media_gone g where g.id = x.row_id)`,
    waits: `exists (select 1 from media_gone g where g.id = x.row_id)`,
  },
  everyMs: 30 * SECOND,
  untilDone: true,
  due: async (reading, untroubled, at) => asDue(await goneFiles(reading, untroubled('id'), at, AT_ONCE)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, async (scope) => {
      if (!(await noteGone(scope, id))) return false;
      await removeBytes(scope, [id]);
      return true;
    }),
  giveUp: async (_, scope, id) => ok(await noteGone(scope, id)),
};
