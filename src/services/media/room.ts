import { MINUTE } from '@/core/shared/instant';
import { goneFiles, MEDIA_ERASURES } from '@/db/media/files';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import type { Room } from '@/services/kit/room';
import { MEDIA_API } from './api';
import { removeBytes } from './store';

const AT_ONCE = 100;

/** Forgets the bytes of files whose rows are gone. What cannot be reached now is tried again. */
const forgetBytes = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const gone = await goneFiles(crossing, AT_ONCE);
    for (const { id, workspace_id: workspaceId } of gone)
      await removeBytes(crossing.within(workspaceId), [id]);
    return gone.length;
  });

export const MEDIA: Room = {
  name: 'media',
  ticks: [{ everyMs: MINUTE, run: forgetBytes }],
  api: MEDIA_API,
  erasures: MEDIA_ERASURES,
};
