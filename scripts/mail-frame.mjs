// Makes the frame of HTML mail from its MJML: `node scripts/mail-frame.mjs`. A test says when it was forgotten.
import { readFileSync, writeFileSync } from 'node:fs';
import mjml2html from 'mjml';

export async function makeFrame() {
  const source = readFileSync(new URL('../src/core/mail/frame.mjml', import.meta.url), 'utf8');
  // Faces are the reader's own: nothing is fetched when somebody opens a letter.
  const { html, errors } = await mjml2html(source, {
    fonts: {},
    validationLevel: 'strict',
    keepComments: false,
  });
  if (errors.length > 0) throw new Error(errors.map(({ formattedMessage }) => formattedMessage).join('\n'));
  return html;
}

if (import.meta.url === `file://${process.argv[1]}`)
  writeFileSync(
    new URL('../src/core/mail/frame.json', import.meta.url),
    `${JSON.stringify({ html: await makeFrame() }, null, 2)}\n`,
  );
