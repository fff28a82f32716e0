/** The stored text with its merge fields in words. */
export const readable = (body: string): string =>
  body.replace(
    /\{\$([\w.]+)[^}]*?(?:fallback=(?:\|([^|]*)\||([^\s}]+)))?\}/g,
    (_, name: string, quoted?: string, bare?: string) =>
      `[${name.split('.').pop()!.replaceAll('_', ' ')}${(quoted ?? bare) ? ` or “${quoted ?? bare}”` : ''}]`,
  );
