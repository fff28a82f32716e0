import type { Comparison } from '@/core/broadcast/wordings';
import type { Timing } from '@/core/broadcast/timing';
import { toIso } from '@/core/shared/instant';
import type { Broadcast } from '@/db/sends/entities';
import { iso } from '@/services/kit/views';
import type { BroadcastCountsRow } from '@/db/results/results';
import { type BroadcastResult, broadcastResult } from '@/core/results/broadcast-result';
import type { Rate } from '@/core/results/rates';

export const broadcastView = (broadcast: Broadcast) => ({
  id: broadcast.id,
  program_id: broadcast.programId,
  audience: broadcast.audience,
  name: broadcast.name,
  channel: broadcast.channel,
  ...(broadcast.subject === null ? {} : { subject: broadcast.subject }),
  body: broadcast.body,
  ...{ short_links: broadcast.links.short, plain_links: broadcast.links.plain, utm: broadcast.links.utm },
  ...timingView(broadcast.timing),
  ...{ media: broadcast.media ?? [], instead: broadcast.instead },
  ...{ companion: broadcast.companion, companion_of: broadcast.companionOf },
  chat_template: broadcast.chatTemplateId,
  recording: broadcast.recordingId,
  comparison: broadcast.comparison && comparisonView(broadcast.comparison),
  ...{ repeat: broadcast.repeat?.rule ?? null, series_id: broadcast.seriesId },
  ...{ chosen_wording: broadcast.chosen, held: broadcast.held },
  state: broadcast.state,
  send_at: iso(broadcast.sendAt),
  begun_at: iso(broadcast.begunAt),
  finished_at: iso(broadcast.finishedAt),
  created_at: iso(broadcast.createdAt),
});

const comparisonView = ({ others, by, first, byItself }: Comparison) => ({
  others: others.map(({ subject, body }) => ({ ...(subject === null ? {} : { subject }), body })),
  ...{ by, first, by_itself: byItself },
});

const timingView = ({ local, hours, pace, senders }: Timing) => ({
  ...{ local, hours, sender_numbers: senders },
  pace:
    pace && 'until' in pace
      ? { until: toIso(pace.until) }
      : pace && 'every' in pace
        ? { people: pace.people, every_minutes: pace.every }
        : pace,
});

export const resultOf = (row: BroadcastCountsRow): BroadcastResult =>
  broadcastResult({ ...row, optOuts: row.opt_outs, noReceipt: row.no_receipt });

export const rateView = (rate: Rate) => ({
  count: rate.count,
  of: rate.of,
  share: rate.share,
  low: rate.low,
  high: rate.high,
});

export const resultView = (result: BroadcastResult) => ({
  people: result.people,
  open: result.open,
  queued: result.queued,
  sending: result.sending,
  submitted: result.submitted,
  no_receipt: result.noReceipt,
  delivered: result.delivered,
  failed: result.failed,
  unconfirmed: result.unconfirmed,
  blocked: result.blocked,
  cancelled: result.cancelled,
  parts: result.parts,
  credits: result.credits,
  replies: result.replies,
  clicks: result.clicks,
  opt_outs: result.optOuts,
  failures: result.failures,
  blocks: result.blocks,
  delivery_rate: rateView(result.deliveryRate),
  reply_rate: rateView(result.replyRate),
  click_rate: rateView(result.clickRate),
  opt_out_rate: rateView(result.optOutRate),
});
