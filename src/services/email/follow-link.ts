import { isbot } from 'isbot';
import { SECOND, type Millis } from '@/core/shared/instant';
import { linkByCode, noteClick, noteRobot } from '@/db/email/mails';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/** Mail servers look at every link of a letter before they hand it over. Nobody reads so fast. */
const SCANNED_WITHIN: Millis = 5 * SECOND;

/**
 * Where a link of a letter leads. That somebody came is noted; a fetch that names itself a robot, only asks for the head,
 * or comes within seconds of the letter is kept and not counted. Null: there is no such link.
 */
export function followLink(
  ctx: Context,
  code: string,
  { agent, head }: { agent: string; head: boolean },
): Promise<string | null> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const link = await linkByCode(crossing, code);
    if (!link) return null;
    const at = ctx.now();
    const scope = crossing.within(link.workspace_id);
    const soon = link.submitted_at !== null && at - link.submitted_at.getTime() < SCANNED_WITHIN;
    if (head || soon || agent === '' || isbot(agent)) await noteRobot(scope, link.message_id, new Date(at));
    else await noteClick(scope, link.message_id, link.person_id, new Date(at));
    return link.url;
  });
}
