import type { OwnHours } from '@/core/clearance/hours';
import type { EntitySchema } from '@mikro-orm/core';
import { entity, key, text, maybe, integer, boolean, json, instant } from '@/db/kit/define';

export interface Program {
  id: string;
  workspaceId: string;
  name: string;
  purpose: 'marketing' | 'recurring' | 'utility' | 'inquiry';
  promiseCount: number | null;
  promisePeriod: 'week' | 'month';
  welcome: string;
  doubleOptIn: boolean;
  ownHours: OwnHours | null;
  archivedAt: Date | null;
  createdAt: Date;
}

export const Program: EntitySchema<Program> = entity<Program>('Program', 'program', {
  id: key,
  workspaceId: text,
  name: text,
  purpose: text,
  promiseCount: maybe(integer),
  promisePeriod: text,
  welcome: text,
  doubleOptIn: boolean,
  ownHours: maybe(json),
  archivedAt: maybe(instant),
  createdAt: instant,
});

export interface ProgramSender {
  workspaceId: string;
  programId: string;
  senderId: string;
}

export const ProgramSender: EntitySchema<ProgramSender> = entity<ProgramSender>(
  'ProgramSender',
  'program_sender',
  {
    workspaceId: text,
    programId: key,
    senderId: key,
  },
);

export interface KeywordRow {
  id: string;
  workspaceId: string;
  programId: string;
  word: string;
  createdAt: Date;
}

export const KeywordRow: EntitySchema<KeywordRow> = entity<KeywordRow>('Keyword', 'keyword', {
  id: key,
  workspaceId: text,
  programId: text,
  word: text,
  createdAt: instant,
});
