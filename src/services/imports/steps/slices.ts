import type { KnownPerson, OnKnown } from '@/core/import/decide';
import type { ImportOptions } from '@/db/imports/imports';
import type { Scope } from '@/db/kit/scope';

/** Work in the import's workspace: a transaction of its own each time. */
export type Inside = <T>(work: (scope: Scope) => Promise<T>) => Promise<T>;

/** Rows that are tried or carried out in one transaction. */
export const SLICE = 2_000;

/** Raised so that the slice during which somebody stopped the import is rolled back whole. */
export class Stopped extends Error {}

/** Whoever asked to be erased: nothing is known of them but that. */
export const ERASED: KnownPerson = {
  id: '',
  firstName: null,
  lastName: null,
  email: null,
  region: null,
  postalCode: null,
  ...{ zone: null, language: null, stageId: null, ownerId: null },
  fields: {},
  stopped: false,
  consent: 'none',
  erased: true,
  shared: false,
  further: [],
};

/** What is wanted for who is here already. */
export const onKnownOf = ({ update, onlyEmpty }: ImportOptions): OnKnown =>
  update ? (onlyEmpty ? 'fill' : 'change') : 'leave';
