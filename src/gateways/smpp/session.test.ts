import { createServer, type Server, type Socket } from 'node:net';
import smpp, { type PDU } from 'smpp';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { readPdu } from './codec';
import { SmppSession, type SessionOptions } from './session';

interface Line {
  socket: Socket;
  /** Every PDU that came in. */
  heard: PDU[];
}

let server: Server | undefined;
let sessions: SmppSession[] = [];

afterEach(() => {
  for (const session of sessions) session.destroy();
  sessions = [];
  server?.close();
});

/** A carrier of one line: it binds whoever comes, and then does what the test tells it on each PDU. */
async function carrier(
  answer: (pdu: PDU, line: Line) => void = () => {},
  bindStatus: number | 'silent' = 0,
): Promise<{ port: number; line(): Line }> {
  let current: Line | undefined;
  server = createServer((socket) => {
    const line: Line = { socket, heard: [] };
    current = line;
    let buffer = Buffer.alloc(0);
    socket.on('error', () => {});
    socket.on('data', (chunk) => {
      buffer = Buffer.concat([buffer, chunk]);
      while (buffer.length >= 4 && buffer.length >= buffer.readUInt32BE(0)) {
        const frame = buffer.subarray(0, buffer.readUInt32BE(0));
        buffer = buffer.subarray(frame.length);
        if (frame.readUInt32BE(4) === GENERIC_NACK) {
          line.heard.push({ command: 'generic_nack', sequence_number: frame.readUInt32BE(12) } as PDU);
          continue;
        }
        const pdu = readPdu(frame);
        line.heard.push(pdu);
        if (pdu.command !== 'bind_transceiver') answer(pdu, line);
        else if (bindStatus !== 'silent')
          socket.write(pdu.response({ command_status: bindStatus }).toBuffer());
      }
    });
  });
  await new Promise<void>((resolve) => server!.listen(0, '127.0.0.1', resolve));
  return { port: (server.address() as { port: number }).port, line: () => current! };
}

const GENERIC_NACK = 0x80000000;

const OPTIONS: Omit<SessionOptions, 'port'> = {
  ...{ host: '127.0.0.1', systemId: 'wren', password: 'bench', window: 10 },
  ...{ responseTimeoutMs: 2_000, enquireEveryMs: 60_000 },
};

async function bind(port: number, more: Partial<SessionOptions> = {}) {
  const onRequest = vi.fn<(pdu: PDU) => void>();
  const onEnd = vi.fn();
  const session = await SmppSession.bind({ ...OPTIONS, port, ...more }, onRequest, onEnd);
  if (session instanceof SmppSession) sessions.push(session);
  return { session, onRequest, onEnd };
}

const submit = (sequence: number): Buffer => {
  const pdu = new smpp.PDU('submit_sm', { destination_addr: '13035550142', short_message: 'Clear.' });
  pdu.sequence_number = sequence;
  return pdu.toBuffer();
};

async function bound(answer?: (pdu: PDU, line: Line) => void, more: Partial<SessionOptions> = {}) {
  const { port, line } = await carrier(answer);
  const { session, ...rest } = await bind(port, more);
  if (!(session instanceof SmppSession)) throw new Error('not bound');
  return { session, line, ...rest };
}

describe('binding', () => {
  it('gives a session that is open', async () => {
    const { session, line } = await bound();
    expect(session.open).toBe(true);
    expect(line().heard[0]).toMatchObject({
      command: 'bind_transceiver',
      system_id: 'wren',
      password: 'bench',
    });
  });

  it('gives the number with which it was refused', async () => {
    const { port } = await carrier(undefined, 0x0e);
    const { session, onEnd } = await bind(port);
    expect(session).toBe(0x0e);
    expect(onEnd).toHaveBeenCalledOnce();
  });

  it('gives nothing where nobody listens', async () => {
    const { port } = await carrier();
    await new Promise((resolve) => server!.close(resolve));
    expect((await bind(port)).session).toBeInstanceOf(Error);
  });

  it('gives nothing when the line is dropped instead of answered', async () => {
    const { port, line } = await carrier(undefined, 'silent');
    const waiting = bind(port);
    await vi.waitFor(() => expect(line().heard).toHaveLength(1));
    line().socket.destroy();
    expect((await waiting).session).toBeInstanceOf(Error);
  });
});

describe('requests', () => {
  it('are matched to their answers by number, in whatever order these come', async () => {
    const held: PDU[] = [];
    const { session } = await bound((pdu, { socket }) => {
      held.push(pdu);
      if (held.length === 3)
        for (const one of [held[2]!, held[0]!, held[1]!])
          socket.write(one.response({ message_id: `m${one.sequence_number}` }).toBuffer());
    });
    const sent = [session.request(submit), session.request(submit), session.request(submit)];
    expect(session.inFlight).toBe(3);
    const answers = await Promise.all(sent);
    expect(answers.map((answer) => answer.kind === 'answered' && answer.pdu.message_id)).toEqual(
      held.map(({ sequence_number: n }) => `m${n}`),
    );
    expect(session.inFlight).toBe(0);
  });

  it('are answered though the answer comes a byte at a time', async () => {
    const { session } = await bound((pdu, { socket }) => {
      const bytes = pdu.response({ message_id: 'slow' }).toBuffer();
      socket.setNoDelay(true);
      for (let i = 0; i < bytes.length; i++) setTimeout(() => socket.write(bytes.subarray(i, i + 1)), i * 2);
    });
    const answer = await session.request(submit);
    expect(answer.kind === 'answered' && answer.pdu.message_id).toBe('slow');
  });

  it('that are open when the line is dropped are silent, all of them, and the end is told once', async () => {
    const { session, onEnd } = await bound((_, line) => {
      if (line.heard.length === 4) line.socket.destroy();
    });
    const answers = await Promise.all([1, 2, 3].map(() => session.request(submit)));
    expect(answers).toEqual([1, 2, 3].map(() => ({ kind: 'silent', written: true })));
    expect(onEnd).toHaveBeenCalledOnce();
    expect(session.open).toBe(false);
  });

  it('after the end are silent and were never written', async () => {
    const { session } = await bound();
    session.destroy();
    expect(await session.request(submit)).toEqual({ kind: 'silent', written: false });
  });

  it('that nobody answers are silent after their time', async () => {
    const { session } = await bound(undefined, { responseTimeoutMs: 100, enquireEveryMs: 5_000 });
    expect(await session.request(submit)).toEqual({ kind: 'silent', written: true });
    expect(session.open).toBe(true);
  });
});

describe('what comes in', () => {
  it('is handed on when it is a request', async () => {
    const { line, onRequest } = await bound();
    const pdu = new smpp.PDU('deliver_sm', { source_addr: '13035550142', short_message: 'STOP' });
    line().socket.write(pdu.toBuffer());
    await vi.waitFor(() => expect(onRequest).toHaveBeenCalledOnce());
    expect(onRequest.mock.calls[0]![0].command).toBe('deliver_sm');
  });

  it('is answered at once when it asks whether we live', async () => {
    const { line, onRequest } = await bound();
    const pdu = new smpp.PDU('enquire_link', {});
    pdu.sequence_number = 77;
    line().socket.write(pdu.toBuffer());
    await vi.waitFor(() =>
      expect(line().heard).toContainEqual(
        expect.objectContaining({ command: 'enquire_link_resp', sequence_number: 77 }),
      ),
    );
    expect(onRequest).not.toHaveBeenCalled();
  });

  it('is answered with generic_nack when it cannot be read, and the next is read', async () => {
    const { line, onRequest } = await bound();
    const broken = Buffer.alloc(16);
    broken.writeUInt32BE(16, 0);
    broken.writeUInt32BE(0x00ff00ff, 4);
    broken.writeUInt32BE(9, 12);
    line().socket.write(
      Buffer.concat([broken, new smpp.PDU('deliver_sm', { short_message: 'hi' }).toBuffer()]),
    );
    await vi.waitFor(() => expect(onRequest).toHaveBeenCalledOnce());
    expect(line().heard).toContainEqual({ command: 'generic_nack', sequence_number: 9 });
  });

  it.each([3, 70_000, 0xffffffff])('ends the line when a frame says it is %d bytes long', async (length) => {
    const { session, line, onEnd } = await bound();
    const head = Buffer.alloc(16);
    head.writeUInt32BE(length, 0);
    line().socket.write(head);
    await vi.waitFor(() => expect(onEnd).toHaveBeenCalledOnce());
    expect(session.open).toBe(false);
  });

  it('is an end when the carrier unbinds', async () => {
    const { line, onEnd } = await bound();
    line().socket.write(new smpp.PDU('unbind', {}).toBuffer());
    await vi.waitFor(() =>
      expect(line().heard).toContainEqual(expect.objectContaining({ command: 'unbind_resp' })),
    );
    line().socket.end();
    await vi.waitFor(() => expect(onEnd).toHaveBeenCalledOnce());
  });
});

describe('a quiet line', () => {
  it('is asked whether it lives, and kept while it answers', async () => {
    const { session, line } = await bound((pdu, { socket }) => void socket.write(pdu.response().toBuffer()), {
      ...{ enquireEveryMs: 50, responseTimeoutMs: 5_000 },
    });
    await vi.waitFor(() =>
      expect(line().heard.filter(({ command }) => command === 'enquire_link').length).toBeGreaterThan(2),
    );
    expect(session.open).toBe(true);
  });

  it('that answers nothing is gone, whatever the network believes', async () => {
    const { session, onEnd } = await bound(undefined, { enquireEveryMs: 50, responseTimeoutMs: 100 });
    const open = session.request(submit);
    await vi.waitFor(() => expect(onEnd).toHaveBeenCalledOnce());
    expect(await open).toEqual({ kind: 'silent', written: true });
  });

  it('is taken down politely', async () => {
    const { session, line, onEnd } = await bound(
      (pdu, { socket }) => void socket.write(pdu.response().toBuffer()),
    );
    await session.unbind();
    expect(line().heard.at(-1)?.command).toBe('unbind');
    expect(onEnd).toHaveBeenCalledOnce();
  });
});
