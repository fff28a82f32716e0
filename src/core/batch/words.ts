import { assertNever } from '@/core/shared/result';
import type { BatchAction } from './batch';

/** What a batch does, in words. `nameOf` gives the name of a thing by its id; undefined: there is none any more. */
export function batchWords(action: BatchAction, nameOf: (id: string) => string | undefined): string {
  const name = (id: string) => `“${nameOf(id) ?? 'something gone'}”`;
  switch (action.do) {
    case 'label':
      return `${action.on ? 'puts on' : 'takes off'} ${name(action.label)}`;
    case 'stage':
      return action.stage ? `moves to ${name(action.stage)}` : 'takes out of every stage';
    case 'owner':
      return action.owner ? `gives to ${nameOf(action.owner) ?? 'somebody gone'}` : 'gives to nobody';
    case 'opt-out':
      return `opts out of ${name(action.program)}`;
    case 'begin':
      return `into the sequence ${name(action.sequence)}`;
    case 'keep':
      return 'kept to write to';
    case 'delete':
      return 'deletes for good';
    default:
      return assertNever(action);
  }
}
