import type { Channel } from '@/core/message/channel';
import { ok, type Result } from '@/core/shared/result';
import { parseTemplate } from '@/core/text/template';
import { LONGEST_TEXT, tooLong } from '@/services/kit/inputs';
import { invalid, type Refusal } from '@/services/kit/validation';

export interface Content {
  subject: string | null;
  body: string;
}

interface Written {
  subject?: string | undefined;
  body: string;
}

/** What each channel wants of what is written. Templates are checked for all of them. */
const CONTENTS: Record<Channel, (written: Written) => Result<Content, Refusal>> = {
  sms: ({ subject, body }) => {
    if (subject !== undefined) return invalid('subject', 'subject: a text has none. Leave it out.');
    if (body.length > LONGEST_TEXT) return invalid('body', `body: ${tooLong(LONGEST_TEXT).message}`);
    return ok({ subject: null, body });
  },
  email: ({ subject = '', body }) => {
    const line = subject.trim();
    if (line === '') return invalid('subject', 'subject: say what the e-mail is about.');
    if (/[\r\n]/.test(line)) return invalid('subject', 'subject: must be one line.');
    return ok({ subject: line, body });
  },
  // What is said stands beside its recording.
  voicemail: ({ subject, body }) =>
    subject === undefined
      ? ok({ subject: null, body })
      : invalid('subject', 'subject: a voicemail has none. Leave it out.'),
  // What is said stands in its template.
  chat: ({ subject, body }) => {
    if (subject !== undefined) return invalid('subject', 'subject: a chat message has none. Leave it out.');
    return ok({ subject: null, body });
  },
};

/** What is written, if it can be sent by this channel. */
export function readContent(channel: Channel, written: Written): Result<Content, Refusal> {
  const content = CONTENTS[channel](written);
  if (!content.ok) return content;
  for (const field of ['subject', 'body'] as const) {
    const source = content.value[field];
    const template = source === null ? null : parseTemplate(source);
    if (template && !template.ok) return invalid(field, `${field}: ${template.reason[0]!.message}`);
  }
  return content;
}
