import { HOUR } from '@/core/shared/instant';
import { MAIL_ERASURES } from '@/db/email/mails';
import type { Room } from '@/services/kit/room';
import { EMAIL_API } from './api';
import { teammateMailQueue, teammateMails } from './teammate-mail';
import { LETTERS } from './receive-mail';
import { settleQuietLetters } from './send-mail';

export const EMAIL: Room = {
  name: 'email',
  mailbox: LETTERS,
  queues: [teammateMailQueue(teammateMails)],
  api: EMAIL_API,
  ticks: [{ everyMs: HOUR, run: settleQuietLetters }],
  erasures: MAIL_ERASURES,
};
