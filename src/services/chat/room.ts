import { HOUR, SECOND } from '@/core/shared/instant';
import { CHAT_ERASURES } from '@/db/chat/chats';
import { chatNetwork } from '@/gateways/chat/network';
import { chatHosts } from '@/services/kit/settings';
import type { Room } from '@/services/kit/room';
import { ACCOUNT_QUEUE } from './accounts';
import { CHAT_API } from './api';
import { REVIEW_QUEUE } from './review';
import { settleUnconfirmed } from './send-chat';
import { forgetOldTold, TOLD_QUEUE } from './take-told';

export const CHAT: Room = {
  name: 'chat',
  finds: [{ kind: 'chat template', table: 'chat_template', label: 'name', at: '/sends/chat-templates/' }],
  queues: [TOLD_QUEUE, REVIEW_QUEUE, ACCOUNT_QUEUE],
  ticks: [
    { everyMs: 5 * SECOND, run: (ctx) => settleUnconfirmed(ctx, chatNetwork(chatHosts())), wakes: true },
    { everyMs: HOUR, run: forgetOldTold },
  ],
  api: CHAT_API,
  erasures: CHAT_ERASURES,
};
