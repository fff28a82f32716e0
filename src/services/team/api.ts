import { ok } from '@/core/shared/result';
import { teamRows } from '@/db/access/team';
import { addCredits, changeRule, changeWorkspace, dropRule } from '@/services/access/change-workspace';
import { changeLimits } from '@/services/access/change-limits';
import { changeWording } from '@/services/access/change-wording';
import { CreditsInput, RuleInput, LimitsInput, WordingInput, WorkspaceInput } from '@/services/access/inputs';
import { readWorkspace } from '@/services/access/screen';
import { get, post, viewed, type Endpoint } from '@/services/kit/api';
import { openInvitations } from './invitations';
import { readMovingIn } from './screen';
import { invitationView, rulesView, limitsView, wordingView, workspaceView } from './views';

/** Who works here is changed by an owner who is signed in, never by a key: a manager who makes one would be an owner by it. */
export const TEAM_API: readonly Endpoint[] = [
  get('/workspace', 'What the workspace says of itself and allows', async ({ scope }) =>
    ok(workspaceView(await readWorkspace(scope))),
  ),
  post(
    '/workspace',
    'Change it: what is left out stays',
    WorkspaceInput,
    200,
    async ({ ctx, scope, input, actor }) =>
      viewed(await changeWorkspace(ctx, scope, input, actor.name), workspaceView),
  ),
  get('/workspace/wording', 'How wordings are checked', async ({ scope }) =>
    ok(wordingView(await readWorkspace(scope))),
  ),
  post(
    '/workspace/wording',
    'Change how wordings are checked: what is left out stays',
    WordingInput,
    200,
    async ({ ctx, scope, input, actor }) =>
      viewed(await changeWording(ctx, scope, input, actor.name), wordingView),
  ),
  get('/workspace/limits', 'Over which shares a broadcast is held by itself', async ({ scope }) =>
    ok(limitsView(await readWorkspace(scope))),
  ),
  post(
    '/workspace/limits',
    'Change the limits over which a broadcast is held: what is left out stays, null is never',
    LimitsInput,
    200,
    async ({ ctx, scope, input, actor }) =>
      viewed(await changeLimits(ctx, scope, input, actor.name), limitsView),
  ),
  get('/workspace/missing', 'What is done and what is missing before the first text', async ({ scope }) =>
    ok({ items: (await readMovingIn(scope)).steps }),
  ),
  post(
    '/workspace/credits',
    'Write down credits that were bought',
    CreditsInput,
    200,
    async ({ ctx, scope, input, actor }) =>
      viewed(await addCredits(ctx, scope, input, actor.name), workspaceView),
  ),
  get('/rules', 'The hours in which something may be sent, by place', async ({ scope }) =>
    ok(rulesView(await readWorkspace(scope))),
  ),
  post('/rules', 'Write a rule of hours of one’s own', RuleInput, 200, async ({ ctx, scope, input, actor }) =>
    viewed(await changeRule(ctx, scope, input, actor.name), rulesView),
  ),
  {
    method: 'DELETE',
    path: '/rules/{id}',
    summary: 'The rule of a place, by its two letters or `everywhere`, as it ships',
    status: 204,
    handle: async ({ ctx, scope, id, actor }) =>
      viewed(await dropRule(ctx, scope, id, actor.name), () => null),
  },
  get('/team', 'Who works here', async ({ scope }) => ok({ items: await teamRows(scope) })),
  get('/invitations', 'Invitations nobody has accepted yet', async ({ ctx, scope }) =>
    ok({ items: (await openInvitations(ctx, scope)).map(invitationView) }),
  ),
];
