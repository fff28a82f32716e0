import { parseNumber } from '../phone/number';
import type { Brand } from '../shared/brand';
import { clean } from '../people/values';
import { ok, refuse, type Result } from '../shared/result';

export type ChatId = Brand<string, 'ChatId'>;

export const CHAT_ID_WORDS =
  'is no chat id: a phone number, or what the network calls them by, without spaces.';

/**
 * By what a network knows somebody: a phone number, kept as E.164, or an opaque id, kept to the letter. `country` reads
 * numbers that come without theirs.
 */
export function parseChatId(text: string, country: string): Result<ChatId, 'no-chat-id'> {
  const given = clean(text).replace(/^(chat|tel):/i, '');
  if (/^[+\d\s().-]+$/.test(given)) {
    const number = parseNumber(given, country);
    return number.ok ? ok(number.value as string as ChatId) : refuse('no-chat-id');
  }
  return /^[^\s<>"'@]{2,120}$/u.test(given) && /[\p{L}\p{N}]/u.test(given)
    ? ok(given as ChatId)
    : refuse('no-chat-id');
}
