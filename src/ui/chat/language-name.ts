const names = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' });

/** A language by its tag, in words: `Spanish (es)`. */
export function languageName(tag: string): string {
  try {
    const name = names.of(tag);
    return name && name !== tag ? `${name} (${tag})` : tag;
  } catch {
    return tag;
  }
}
