import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { must } from './people';
import { round, Scripted } from './sending';
import { phone, type World } from './world';

const ME = { name: 'test', accountId: null };

/** People who joined, and a broadcast to them that is pressed by hand, made ready. Gives its id. */
export async function handSent(
  world: World,
  people: number,
  pace: { adapt?: boolean } = {},
): Promise<string> {
  for (let i = 0; i < people; i++) await world.texts(phone(i), 'sky');
  await round(world, new Scripted());
  const { id } = must(
    await world.within((scope) =>
      createBroadcast(
        world.ctx,
        scope,
        {
          ...{ program: 'Clear Sky Alerts', name: 'By hand', body: 'Shall we save you a chair?' },
          pace: { hands: true, ...pace },
        },
        ME,
      ),
    ),
  );
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  return id;
}
