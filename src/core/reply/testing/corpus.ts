/** What a reply of the corpus really means. `unclear`: a human would ask, too. */
export type Label = 'out' | 'reply' | 'unclear';

export interface Labelled {
  label: Label;
  text: string;
}

/** Replies that one line with choices stands for: all where they are few, else some, always the same. */
const MOST = 12;

/**
 * Reads a corpus: a `# label` begins a section, each line is a reply. `[a|b]` is a choice; of a line with choices at most
 * twelve replies are taken. Gives each reply once.
 */
export function readCorpus(text: string): Labelled[] {
  const found = new Map<string, Label>();
  let label: Label = 'reply';
  for (const line of text.split('\n')) {
    if (line.startsWith('# ')) label = line.slice(2).trim() as Label;
    else if (line.trim() !== '')
      for (const reply of expanded(line)) if (!found.has(reply)) found.set(reply, label);
  }
  return [...found].map(([reply, of]) => ({ label: of, text: reply }));
}

function expanded(line: string): string[] {
  const pieces = line
    .split(/(\[[^\]]*\])/)
    .map((piece) => (piece.startsWith('[') ? piece.slice(1, -1).split('|') : [piece]));
  const all = pieces.reduce((sum, choices) => sum * choices.length, 1);
  const step = Math.max(1, Math.floor(all / MOST));
  const replies: string[] = [];
  // Steps that are no divisor of the choices reach every choice of every place.
  for (
    let n = 0, at = 0;
    n < Math.min(all, MOST);
    n++, at = (at + (step % 2 === 0 ? step + 1 : step)) % all
  ) {
    let rest = at;
    const words = pieces.map((choices) => {
      const choice = choices[rest % choices.length]!;
      rest = Math.floor(rest / choices.length);
      return choice;
    });
    replies.push(words.join('').replace(/\s+/g, ' ').trim());
  }
  return replies;
}
