import type { CarrierProfile } from '@/core/delivery/carrier-profile';
import type { LinkOptions } from './link';
import { SmppSession, type Direction } from './session';
import { statusWords } from './status-words';

export interface CheckStep {
  good: boolean;
  words: string;
}

/** What a carrier said when it was connected to once, and settings that would do better. Nothing is sent. */
export interface CarrierCheck {
  steps: CheckStep[];
  proposal: Partial<CarrierProfile>;
}

/** Connects to a carrier as its profile says, asks whether it is there, and goes; where it wants another bind, tries that. */
export async function checkCarrier(
  options: LinkOptions & { profile: CarrierProfile },
): Promise<CarrierCheck> {
  const { bind } = options.profile;
  const first = await tryBinds(options, bind);
  if (first.taken || first.wantsOther === false) return { steps: first.steps, proposal: {} };
  const other = bind === 'transceiver' ? 'transmitter and receiver' : 'transceiver';
  const second = await tryBinds(options, other);
  if (!second.taken) return { steps: first.steps, proposal: {} };
  const words = `It takes ${BIND_WORDS[other]}. Set “bind” to “${other}”.`;
  return { steps: [...first.steps, { good: true, words }], proposal: { bind: other } };
}

const BIND_WORDS: Record<CarrierProfile['bind'], string> = {
  transceiver: 'one connection for both ways',
  'transmitter and receiver': 'one connection out and one in',
};

/** Refusals after which another kind of bind may be taken: it knows no such command, or not in this state. */
const OTHER_BIND = [0x03, 0x04, 0x0d];

async function tryBinds(
  options: LinkOptions & { profile: CarrierProfile },
  bind: CarrierProfile['bind'],
): Promise<{ steps: CheckStep[]; taken: boolean; wantsOther: boolean }> {
  const steps: CheckStep[] = [];
  const directions: Direction[] = bind === 'transceiver' ? ['transceiver'] : ['receiver', 'transmitter'];
  const sessions: SmppSession[] = [];
  try {
    for (const direction of directions) {
      const began = performance.now();
      const bound = await SmppSession.bind(
        { ...options, tls: options.profile.tls, systemType: options.profile.systemType },
        // What it brings meanwhile is not ours to take: it keeps it for the link.
        (pdu, session) => session.reply(pdu.response({ command_status: 0x64 })),
        () => {},
        direction,
      );
      const ms = Math.round(performance.now() - began);
      if (bound instanceof Error)
        return {
          steps: [...steps, bad(`It cannot be reached: ${bound.message}`)],
          taken: false,
          wantsOther: false,
        };
      if (typeof bound === 'number')
        return {
          steps: [...steps, bad(statusWords(bound))],
          ...{ taken: false, wantsOther: OTHER_BIND.includes(bound) },
        };
      sessions.push(bound);
      const called = bound.calledItself ? ` and calls itself “${bound.calledItself}”` : '';
      steps.push(good(`It took the bind as ${direction} after ${ms} ms${called}.`));
    }
    for (const session of sessions) {
      const began = performance.now();
      const there = await session.confirm();
      const ms = Math.round(performance.now() - began);
      steps.push(
        there
          ? good(`It answered whether it is there after ${ms} ms.`)
          : bad('It did not answer whether it is there.'),
      );
    }
    return { steps: [...steps, good('It let us go when we asked.')], taken: true, wantsOther: false };
  } finally {
    await Promise.all(sessions.map((session) => session.unbind()));
  }
}

const good = (words: string): CheckStep => ({ good: true, words });
const bad = (words: string): CheckStep => ({ good: false, words });
