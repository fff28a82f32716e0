const ESCAPES: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** Text as it may stand in HTML, SVG and XML, also between quotes. */
export const escaped = (text: string): string => text.replace(/[&<>"']/g, (letter) => ESCAPES[letter]!);
