/** Words as a list of SQL texts. For words of ours only: nothing in them is escaped. */
export const sqlList = (words: readonly string[]): string => words.map((word) => `'${word}'`).join(', ');
