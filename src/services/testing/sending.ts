import type { Carrier, OutgoingPart, Receipt, SubmitOutcome } from '@/gateways/carrier';
import type { PaceInput } from '@/services/sends/inputs';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, finishBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { claimDueTexts, submitText } from '@/services/delivery/send-due-texts';
import { storeAnswers } from '@/services/delivery/store-answers';
import { phone, type World } from './world';

/** A carrier that answers as told, part by part; takes everything beyond. */
export class Scripted implements Carrier {
  readonly parts: OutgoingPart[] = [];
  /** The id it gave each part; empty where it did not take it. */
  readonly ids: string[] = [];
  constructor(readonly script: SubmitOutcome[] = []) {}
  free = () => 100;
  close = async () => {};
  async submit(part: OutgoingPart): Promise<SubmitOutcome> {
    const outcome = this.script.shift() ?? { kind: 'taken', carrierId: `c${(idsGiven += 1)}` };
    this.parts.push(part);
    this.ids.push(outcome.kind === 'taken' ? outcome.carrierId : '');
    return outcome;
  }
}

/** A carrier gives no id twice, whatever worker asked. */
let idsGiven = 0;

/** Claims, submits and stores once, as worker 1; how many texts. */
export async function round(world: World, carrier: Carrier, room = 100): Promise<number> {
  const leaving = await claimDueTexts(world.ctx, 1, room);
  await storeAnswers(world.ctx, await Promise.all(leaving.map((text) => submitText(carrier, text))), []);
  return leaving.length;
}

/** People who joined, their confirmations out of the way, and a broadcast to them on its way. */
export async function broadcastTo(
  world: World,
  people: number,
  body = 'Clear tonight.',
  more: { name?: string; pace?: PaceInput } = {},
): Promise<string> {
  const me = { name: 'test', accountId: null };
  for (let i = 0; i < people; i++) await world.texts(phone(i), 'sky');
  await round(world, new Scripted());
  const made = await world.within((scope) =>
    createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name: 'B', body, ...more }, me),
  );
  if (!made.ok) throw new Error('refused');
  await world.within((scope) => sendBroadcast(world.ctx, scope, made.value.id, {}, me));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, made.value.id);
  return made.value.id;
}

export interface TextRow {
  id: string;
  number: string;
  state: string;
  failure: string | null;
  attempts: number;
  reference: number;
}

/** The texts of broadcasts, in the order they were queued. */
export const sent = (world: World): Promise<TextRow[]> =>
  world.within((scope) =>
    scope.rows<TextRow>(
      `select id, address as number, state, failure, attempts, reference from message where workspace_id = :workspace and kind = 'broadcast' order by id`,
    ),
  );

/** What the carrier tells of one part. */
export const receipt = (
  part: Pick<OutgoingPart, 'to' | 'userReference'>,
  carrierId: string,
  stat: Receipt['stat'] = 'DELIVRD',
  err = '000',
): Receipt => ({ carrierId, stat, err, number: part.to, userReference: part.userReference });

/** The i-th person's receipt, as a carrier's error code; those without one are delivered, the silent get none. */
export async function deliverTo(
  world: World,
  people: number,
  errs: Record<number, string>,
  silent: readonly number[] = [],
): Promise<void> {
  const carrier = new Scripted();
  await round(world, carrier);
  const personOf = ({ to }: OutgoingPart) => Array.from({ length: people }, (_, i) => phone(i)).indexOf(to);
  const receipts = carrier.parts.flatMap((part, n): Receipt[] => {
    const i = personOf(part);
    if (silent.includes(i)) return [];
    const err = errs[i];
    return [receipt(part, carrier.ids[n]!, err ? 'UNDELIV' : 'DELIVRD', err)];
  });
  await storeAnswers(world.ctx, [], receipts);
  await finishBroadcasts(world.ctx);
}
