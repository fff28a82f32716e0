import type { Context } from './context';

/** What names one letter to the outside. Long enough that nobody guesses another's, small letters for mail servers. */
export const mailToken = (ctx: Context): string =>
  [ctx.id('a'), ctx.id('b')].map((id) => id.slice(2)).join('');
