import type { MailGateway } from '@/gateways/mail/sender';
import type { Relay } from '@/gateways/mm7/relay';
import { claimDuePictures, handOverPicture, type LeavingPicture } from '@/services/delivery/send-pictures';
import { claimDueMails, handOverMail, type LeavingMail } from '@/services/email/send-mail';
import type { Context } from '@/services/kit/context';
import { HandOver } from './hand-over';

export const letters = (ctx: Context, workerId: number, gateway: MailGateway): HandOver<LeavingMail> =>
  new HandOver(ctx, {
    called: 'Letters',
    free: () => gateway.free(),
    claim: (room) => claimDueMails(ctx, workerId, room),
    handOver: (letter) => handOverMail(ctx, gateway, letter),
    close: () => gateway.close(),
  });

export const pictures = (ctx: Context, workerId: number, relay: Relay): HandOver<LeavingPicture> =>
  new HandOver(ctx, {
    called: 'Picture messages',
    free: () => relay.free(),
    claim: (room) => claimDuePictures(ctx, workerId, room),
    handOver: (picture) => handOverPicture(ctx, relay, picture),
    close: () => relay.close(),
  });
