import { SECOND } from '@/core/shared/instant';
import { VOICEMAIL_ERASURES } from '@/db/voicemail/voicemails';
import { voicemailDropper } from '@/gateways/voicemail/dropper';
import type { Room } from '@/services/kit/room';
import { callHosts } from '@/services/kit/settings';
import { VOICEMAIL_ACCOUNT_QUEUE } from './accounts';
import { VOICEMAIL_API } from './api';
import { settleUnconfirmedVoicemails } from './send-voicemail';

export const VOICEMAIL: Room = {
  name: 'voicemail',
  finds: [
    {
      kind: 'voice message',
      table: 'voice_message',
      label: 'name',
      where: 'archived_at is null',
      at: '/sends/voice-messages/',
    },
  ],
  queues: [VOICEMAIL_ACCOUNT_QUEUE],
  ticks: [
    {
      everyMs: 5 * SECOND,
      run: (ctx) => settleUnconfirmedVoicemails(ctx, voicemailDropper(callHosts())),
      wakes: true,
    },
  ],
  api: VOICEMAIL_API,
  erasures: VOICEMAIL_ERASURES,
};
