import { createSocket } from 'node:dgram';
import { AUTHORITATIVE_ANSWER, decode, encode } from 'dns-packet';

const NO_SUCH_NAME = 3;

/**
 * Answers over UDP what is written at names, as a name server of theirs does (RFC 1035): TXT records, and for all else that
 * there is no such name.
 */
export function serveNames(records: () => Record<string, string>, port: number): Promise<void> {
  const socket = createSocket('udp4');
  socket.on('message', (bytes, asker) => {
    const reply = answer(bytes, records());
    if (reply) socket.send(reply, asker.port, asker.address);
  });
  return new Promise((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, '127.0.0.1', () => resolve());
  });
}

/** Null: it was no question. */
function answer(bytes: Buffer, records: Record<string, string>): Buffer | null {
  try {
    const { id, questions = [] } = decode(bytes);
    const [question] = questions;
    const words = question && records[question.name.toLowerCase()];
    return encode({
      ...{ type: 'response', id, questions },
      flags: AUTHORITATIVE_ANSWER | (words ? 0 : NO_SUCH_NAME),
      answers:
        words && question.type === 'TXT'
          ? // A string of a record holds 255 octets; the reader puts them together.
            [{ type: 'TXT', name: question.name, ttl: 60, data: words.match(/.{1,255}/g)! }]
          : [],
    });
  } catch {
    return null;
  }
}
