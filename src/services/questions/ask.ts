import { againText, askedOf, questionText } from '@/core/question/fields';
import type { MessageKind } from '@/core/message/kinds';
import type { Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { announce, insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { noteAsked } from '@/db/questions/askings';
import type { Asking } from '@/db/questions/entities';
import { ownFields } from '@/services/audience/own-fields';
import { newText } from '@/services/delivery/new-text';
import type { Context } from '@/services/kit/context';

interface Way {
  kind: MessageKind & ('asking' | 'asking-again');
  /** So long after now it may leave. */
  after?: Millis;
  /** Of a date, only this is asked for. */
  missing?: 'year' | null;
}

/** Sends the open question; once more, in other words, when it was asked before. */
export async function ask(ctx: Context, scope: Scope, asking: Asking, way: Way): Promise<void> {
  const question = asking.questions[asking.at]!;
  const asked = askedOf(question.field, await ownFields(scope, true));
  if (!asked) throw new Error(`There is no field ${question.field}`);
  const body =
    asking.times === 1 ? questionText(question, asked) : againText(question, asked, way.missing ?? null);
  await noteAsked(scope, asking, new Date(ctx.now()));
  await say(ctx, scope, asking, body, way);
}

/** A text about these questions, from the number they joined by. */
export async function say(
  ctx: Context,
  scope: Scope,
  { personId, address, programId, senderId }: Asking,
  body: string,
  { kind, after }: Way,
): Promise<void> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  await insertTexts(scope, [
    newText(ctx, {
      ...{ personId, address, programId, senderId, inboundId: null, workspace, kind, body, createdBy: null },
      ...(after === undefined ? {} : { notBefore: ctx.now() + after }),
    }),
  ]);
  await announce(scope, true);
}
