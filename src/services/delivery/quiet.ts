import { log } from '@/log/log';
import { RECEIPT_MARGIN, VALIDITY } from '@/core/delivery/failure';
import type { Channel } from '@/core/message/channel';
import type { Millis } from '@/core/shared/instant';
import { holdWalk, lapseTexts, quietMessages, walkOn, type QuietMessage } from '@/db/delivery/quiet';
import { announceAll } from '@/db/delivery/texts';
import { acrossWorkspaces, type Crossing } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/** Messages settled in one go. */
const AT_ONCE = 500;

/**
 * Settles the messages of a channel of which nothing was told for so long. One that cannot be settled stays as it is and is
 * logged, and the others go on. Gives how many.
 */
export async function settleQuiet(
  ctx: Context,
  channel: Channel,
  after: Millis,
  settle: (crossing: Crossing, messages: readonly QuietMessage[]) => Promise<void>,
): Promise<number> {
  const before = new Date(ctx.now() - after);
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    // Two that walk at once would each pass over what the other has not settled yet.
    const stands = await holdWalk(crossing, channel, before);
    if (!stands) return 0;
    const quiet = await quietMessages(crossing, channel, stands.since, before, AT_ONCE);
    const together = await crossing.attempt(() => settle(crossing, quiet));
    if (!together.ok)
      for (const message of quiet) {
        const alone = await crossing.attempt(() => settle(crossing, [message]));
        if (!alone.ok)
          log.error({ err: alone.error }, `Message ${message.id} stays as if its receipt may come.`);
      }
    const whole = quiet.length < AT_ONCE;
    await walkOn(crossing, channel, whole ? before : quiet.at(-1)!.submitted_at);
    return quiet.length;
  });
}

/** Texts whose validity is over without a receipt: the carrier should have told, and did not. */
export const lapseSilentTexts = (ctx: Context): Promise<number> =>
  settleQuiet(ctx, 'sms', VALIDITY + RECEIPT_MARGIN, async (crossing, texts) => {
    if (texts.length === 0) return;
    await lapseTexts(
      crossing,
      texts.map(({ id }) => id),
      new Date(ctx.now()),
    );
    await announceAll(
      crossing,
      texts.map((text) => text.workspace_id),
    );
  });
