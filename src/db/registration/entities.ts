import type { EntitySchema } from '@mikro-orm/core';
import type {
  BrandFile,
  NumberFile,
  ProgramFile,
  ProgramWritten,
  RegistrationAbout,
} from '@/core/registration/file';
import type { RegistrationEvent, RegistrationState } from '@/core/registration/life';
import { big, boolean, entity, instant, integer, json, key, keyOf, maybe, text } from '@/db/kit/define';

/** The account at a registrar that numbers are registered by. */
export interface RegistrarAccount {
  id: string;
  workspaceId: string;
  name: string;
  url: string;
  account: string;
  token: string;
  /** In the address we are called back at. */
  doorKey: string;
  secret: string;
  state: 'open' | 'closed';
  /** Seconds a review takes, as it says itself. */
  usual: Partial<Record<RegistrationAbout, number>>;
  checkedAt: Date | null;
  trouble: string | null;
  dueAt: Date | null;
  removedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const RegistrarAccount: EntitySchema<RegistrarAccount> = entity<RegistrarAccount>(
  'RegistrarAccount',
  'registrar_account',
  {
    ...{ id: key, workspaceId: text, name: text, url: text, account: text, token: text, doorKey: text },
    ...{ secret: text, state: text, usual: json, checkedAt: maybe(instant), trouble: maybe(text) },
    ...{ dueAt: maybe(instant), removedAt: maybe(instant), createdBy: maybe(text), createdAt: instant },
  },
);

/** What is told of the business. */
export interface BrandRow {
  workspaceId: string;
  file: BrandFile;
  stamp: number;
  changedAt: Date;
}

export const BrandRow: EntitySchema<BrandRow> = entity<BrandRow>('RegistrationBrand', 'registration_brand', {
  ...{ workspaceId: key, file: json, stamp: integer, changedAt: instant },
});

/** What is written about a program; the rest of its file is taken from the program. */
export interface ProgramRow {
  programId: string;
  workspaceId: string;
  written: ProgramWritten;
  stamp: number;
  changedAt: Date;
}

export const ProgramRow: EntitySchema<ProgramRow> = entity<ProgramRow>(
  'RegistrationProgram',
  'registration_program',
  { programId: key, workspaceId: text, written: json, stamp: integer, changedAt: instant },
);

export type ToldFile = BrandFile | ProgramFile | NumberFile;

/** A newer file of what is registered already. */
export interface FileChange {
  told: ToldFile;
  version: number;
  state: 'waiting' | 'in-review' | 'refused';
  reason: string | null;
  handedInAt: string;
}

/** How the registration of the brand, of a program or of a number stands. */
export interface Registration {
  id: string;
  workspaceId: string;
  about: RegistrationAbout;
  /** The program or the sender number; empty for the brand. */
  subject: string;
  state: RegistrationState;
  /** The file as the reviewer has it; null: nothing was handed in. */
  told: ToldFile | null;
  /** Of the file; each that is handed in has a higher one. */
  version: number;
  change: FileChange | null;
  reason: string | null;
  /** The last word of the registrar that we know, by its count. */
  turn: number;
  /** We want it back: the registrar is still to be told. */
  takenBack: boolean;
  handedInAt: Date | null;
  decidedAt: Date | null;
  dueAt: Date | null;
  stamp: number;
  createdBy: string | null;
  createdAt: Date;
}

export const Registration: EntitySchema<Registration> = entity<Registration>('Registration', 'registration', {
  ...{ id: key, workspaceId: text, about: text, subject: text, state: text, told: maybe(json) },
  ...{ version: integer, change: maybe(json), reason: maybe(text), turn: integer, takenBack: boolean },
  ...{ handedInAt: maybe(instant), decidedAt: maybe(instant), dueAt: maybe(instant), stamp: integer },
  ...{ createdBy: maybe(text), createdAt: instant },
});

/** A line of its history. */
export interface RegistrationStep {
  id: number;
  workspaceId: string;
  registrationId: string;
  event: RegistrationEvent | 'change' | 'change-taken' | 'change-refused';
  reason: string | null;
  /** An account, `key:…`; null: the registrar. */
  by: string | null;
  at: Date;
}

export const RegistrationStep: EntitySchema<RegistrationStep> = entity<RegistrationStep>(
  'RegistrationStep',
  'registration_step',
  {
    ...{ id: keyOf(big), workspaceId: text, registrationId: text, event: text },
    ...{ reason: maybe(text), by: maybe(text), at: instant },
  },
);

/** A question of a reviewer, and what was answered. */
export interface RegistrationQuestion {
  id: string;
  workspaceId: string;
  registrationId: string;
  /** What the registrar calls it. */
  key: string;
  /** Of the file; empty: it is about the whole. */
  field: string;
  words: string;
  askedAt: Date;
  answer: string | null;
  answeredBy: string | null;
  answeredAt: Date | null;
  /** The registrar has the answer. */
  toldAt: Date | null;
}

export const RegistrationQuestion: EntitySchema<RegistrationQuestion> = entity<RegistrationQuestion>(
  'RegistrationQuestion',
  'registration_question',
  {
    ...{ id: key, workspaceId: text, registrationId: text, key: text, field: text, words: text },
    ...{ askedAt: instant, answer: maybe(text), answeredBy: maybe(text), answeredAt: maybe(instant) },
    toldAt: maybe(instant),
  },
);
