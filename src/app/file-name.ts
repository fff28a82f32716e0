import { cleanText } from '@/core/shared/clean-text';

/** The name of a file that is sent as a body: it travels encoded, since a header holds no letters beyond ASCII. */
export function fileNameOf(headers: Headers): string {
  const said = headers.get('x-file-name') ?? '';
  try {
    return cleanText(decodeURIComponent(said));
  } catch {
    return cleanText(said);
  }
}
