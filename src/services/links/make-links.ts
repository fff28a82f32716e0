import { CODE_LENGTH, makeCode, withCodes, type ShortLink } from '@/core/link/shorten';
import { insertCodes, targetsFor } from '@/db/links/links';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

interface Copied {
  text: string;
  links: readonly ShortLink[];
}

/** A copy whose links have their codes. */
export interface Coded {
  body: string;
  codes: { code: string; target: string }[];
}

/** Gives each link of a copy a code of its own. */
export function codeLinks(ctx: Context, { text, links }: Copied): Coded {
  const codes = links.map(({ target }) => ({ code: makeCode(ctx.bytes(CODE_LENGTH), CODE_LENGTH), target }));
  return {
    body: withCodes(
      { text, links: [...links] },
      codes.map(({ code }) => code),
    ),
    codes,
  };
}

/** Keeps the codes of messages of one send that were just queued. */
export async function keepCodes(
  ctx: Context,
  scope: Scope,
  sendId: string,
  made: readonly { messageId: string; codes: Coded['codes'] }[],
): Promise<void> {
  const all = made.flatMap(({ messageId, codes }) => codes.map((one) => ({ messageId, ...one })));
  if (all.length === 0) return;
  const urls = [...new Set(all.map(({ target }) => target))];
  const targets = await targetsFor(
    scope,
    sendId,
    urls.map((url) => ({ id: ctx.id('tgt'), url })),
    new Date(ctx.now()),
  );
  await insertCodes(
    scope,
    all.map(({ code, messageId, target }) => ({ code, messageId, targetId: targets.get(target)! })),
  );
}
