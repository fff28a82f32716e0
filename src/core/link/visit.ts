import type { Channel } from '../message/channel';
import { SECOND, type Millis } from '../shared/instant';

export const DEVICES = ['phone', 'tablet', 'computer', 'unknown'] as const;
export type Device = (typeof DEVICES)[number];

/** What somebody came with, by what it says of itself. */
export function deviceOf(agent: string): Device {
  if (/iPad|Tablet|PlayBook|Silk|Android(?!.*Mobile)/i.test(agent)) return 'tablet';
  if (/Mobi|iPhone|iPod|Android/i.test(agent)) return 'phone';
  return /Windows|Macintosh|X11|Linux|CrOS/i.test(agent) ? 'computer' : 'unknown';
}

/** Why a visit is taken for a machine's. */
export type RobotSign =
  | 'only asked for the head'
  | 'says so itself'
  | 'says nothing of itself'
  | 'at once'
  | 'fetches for others too';

export interface Visit {
  head: boolean;
  agent: string;
  /** A library knows its name for a robot's. */
  knownRobot: boolean;
  /** Since the message left; null: it has not, as far as is known. */
  since: Millis | null;
  channel: Channel;
  /** Links of how many other people were fetched from the same place within minutes. */
  others: number;
}

/** Mail servers look at every link of a letter before they hand it over, carriers at those of a text; nobody reads so fast. */
const AT_ONCE: Record<Visit['channel'], Millis> = {
  email: 5 * SECOND,
  sms: 2 * SECOND,
  chat: 2 * SECOND,
  voicemail: 0,
};
/** Within this time a place that fetches the links of several people is a machine; later it may be a school's. */
const SOON: Millis = 60 * SECOND;

/** A visit that is a machine's is kept, and counts nowhere. Null: it is somebody's. */
export function robotSign({ head, agent, knownRobot, since, channel, others }: Visit): RobotSign | null {
  if (head) return 'only asked for the head';
  if (agent.trim() === '') return 'says nothing of itself';
  if (knownRobot) return 'says so itself';
  if (since === null) return null;
  if (since < AT_ONCE[channel]) return 'at once';
  return since < SOON && others >= 2 ? 'fetches for others too' : null;
}
