import { broadcastTo } from './sending';
import type { World } from './world';

/** People who joined, and a broadcast to them that is pressed by hand, made ready. Gives its id. */
export const handSent = (world: World, people: number, pace: { adapt?: boolean } = {}): Promise<string> =>
  broadcastTo(world, people, 'Shall we save you a chair?', {
    name: 'By hand',
    pace: { hands: true, ...pace },
  });
