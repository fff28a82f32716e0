/** Teammates that a note calls by name after an @: by their whole name, or by the first one where only one has it. */
export function mentioned(
  note: string,
  team: readonly { id: string; name: string }[],
): { id: string; name: string }[] {
  const words = fold(note);
  const firsts = team.map(({ name }) => firstOf(name));
  return team.filter(({ name }, i) => {
    const first = firsts[i]!;
    const isOnly = firsts.filter((one) => one === first).length === 1;
    return calls(words, fold(name)) || (isOnly && calls(words, first));
  });
}

const LETTER_FIRST = /^[\p{L}\p{N}]/u;
const LETTER_LAST = /[\p{L}\p{N}]$/u;

const fold = (text: string): string => text.normalize('NFKC').toLowerCase();
const firstOf = (name: string): string => fold(name).split(' ')[0] ?? '';

/** The name stands there whole: @ann calls nobody named Annabel. */
function calls(words: string, name: string): boolean {
  if (name === '') return false;
  for (let at = words.indexOf(`@${name}`); at >= 0; at = words.indexOf(`@${name}`, at + 1))
    if (!LETTER_LAST.test(words.slice(0, at)) && !LETTER_FIRST.test(words.slice(at + 1 + name.length)))
      return true;
  return false;
}
