import Bowser from 'bowser';

/** What a browser says of itself, as somebody who looks for their own would put it: `Firefox 128 on Windows`. */
export function browserName(userAgent: string): string {
  if (userAgent === '') return 'unknown';
  const { browser, os } = Bowser.parse(userAgent);
  if (!browser.name) return userAgent;
  const version = browser.version?.split('.')[0];
  return `${browser.name}${version ? ` ${version}` : ''}${os.name ? ` on ${os.name}` : ''}`;
}
