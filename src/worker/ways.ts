import type { MailGateway } from '@/gateways/mail/sender';
import type { Relay } from '@/gateways/mm7/relay';
import type { ChatNetwork } from '@/gateways/chat/network';
import { claimDueChats, handOverChat, type LeavingChat } from '@/services/chat/send-chat';
import { claimDuePictures, handOverPicture, type LeavingPicture } from '@/services/delivery/send-pictures';
import { claimDueMails, handOverMail, type LeavingMail } from '@/services/email/send-mail';
import type { Dropper } from '@/gateways/voicemail/dropper';
import type { Context } from '@/services/kit/context';
import {
  claimDueVoicemails,
  handOverVoicemail,
  type LeavingVoicemail,
} from '@/services/voicemail/send-voicemail';
import { HandOver } from './hand-over';
import type { Pulse } from './pulse';

export const letters = (
  ctx: Context,
  workerId: number,
  pulse: Pulse | null,
  gateway: MailGateway,
): HandOver<LeavingMail> =>
  new HandOver(ctx, pulse, {
    called: 'Letters',
    free: () => gateway.free(),
    claim: (room) => claimDueMails(ctx, workerId, room),
    handOver: (letter) => handOverMail(ctx, gateway, letter),
    close: () => gateway.close(),
  });

export const pictures = (
  ctx: Context,
  workerId: number,
  pulse: Pulse | null,
  relay: Relay,
): HandOver<LeavingPicture> =>
  new HandOver(ctx, pulse, {
    called: 'Picture messages',
    free: () => relay.free(),
    claim: (room) => claimDuePictures(ctx, workerId, room),
    handOver: (picture) => handOverPicture(ctx, relay, picture),
    close: () => relay.close(),
  });

/** `atOnce`: messages that are handed over at the same time, of all accounts together. */
export const chats = (
  ctx: Context,
  workerId: number,
  pulse: Pulse | null,
  network: ChatNetwork,
  atOnce: number,
): HandOver<LeavingChat> =>
  new HandOver(ctx, pulse, {
    called: 'Chat messages',
    free: () => atOnce,
    claim: (room) => claimDueChats(ctx, workerId, room),
    handOver: (chat) => handOverChat(ctx, network, chat),
    close: () => Promise.resolve(),
  });

/** `atOnce`: voicemails that are handed over at the same time, of all accounts together. */
export const voicemails = (
  ctx: Context,
  workerId: number,
  pulse: Pulse | null,
  dropper: Dropper,
  atOnce: number,
): HandOver<LeavingVoicemail> =>
  new HandOver(ctx, pulse, {
    called: 'Voicemails',
    free: () => atOnce,
    claim: (room) => claimDueVoicemails(ctx, workerId, room),
    handOver: (voicemail) => handOverVoicemail(ctx, dropper, voicemail),
    close: () => Promise.resolve(),
  });
