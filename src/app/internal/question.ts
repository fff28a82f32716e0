import { CHANNELS } from '@/core/message/channel';
import { cutText } from '@/core/shared/clean-text';
import type { SignedIn } from '@/services/access/sessions';
import type { DraftQuestion } from '@/services/clearance/report-clearance';
import { instantOfLocal } from '../draft-question';

/** The question a draft asks, from what the screen sent. A time that cannot be read, or is past, is now. */
export const questionOf = (
  body: Record<string, string | null>,
  session: SignedIn,
  now: number,
): DraftQuestion => ({
  program: body.program ?? '',
  channel: CHANNELS.find((channel) => channel === body.channel) ?? 'sms',
  subject: cutText(body.subject ?? '', 300),
  body: cutText(body.body ?? '', 20_000),
  at: Math.max(now, instantOfLocal(body.at ?? '', session.workspaceZone) ?? now),
  senderName: session.name.split(' ')[0] ?? null,
  personId: body.person ?? null,
  links: {
    ...{ short: body.short !== 'no', utm: body.utm === 'yes' },
    plain: (body.plain ?? '').split('\n').filter(Boolean).slice(0, 20),
  },
  broadcastId: body.id ?? null,
  audience: body.audience || null,
});
