import smpp, { type PDU, type Session } from 'smpp';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { LinkState } from '@/core/delivery/link';
import type { CarrierEvents, IncomingPart } from '../carrier';
import { SmppLink } from './link';

/** A message centre by another library, with habits of its own. */
interface Centre {
  port: number;
  /** The session that bound last. */
  session(): Session;
  /** Delivers something; resolves with the status it was answered with. */
  deliver(fields: Record<string, unknown>): Promise<number>;
}

const ADDRESSES = {
  ...{ source_addr_ton: 1, source_addr: '13035550142', dest_addr_ton: 1, destination_addr: '17195550110' },
  ...{ data_coding: 0, esm_class: 0 },
};

let link: SmppLink | null = null;
let close: () => void = () => {};
afterEach(async () => {
  await link?.close();
  link = null;
  close();
});

async function centre(onBind: (pdu: PDU, session: Session) => void): Promise<Centre> {
  let current: Session | null = null;
  const server = smpp.createServer({}, (session) => {
    session.on('bind_transceiver', (pdu) => {
      current = session;
      onBind(pdu, session);
    });
    session.on('enquire_link', (pdu) => session.send(pdu.response()));
    session.on('unbind', (pdu) => (session.send(pdu.response()), session.close()));
    session.on('error', () => session.destroy());
  });
  const port = await new Promise<number>((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve(server.address().port)),
  );
  close = () => {
    current?.destroy();
    server.close();
  };
  return {
    port,
    session: () => current!,
    deliver: (fields) =>
      new Promise((resolve) =>
        current!.deliver_sm({ ...ADDRESSES, ...fields }, (response) => resolve(response.command_status)),
      ),
  };
}

function connect(port: number, over: Partial<CarrierEvents> = {}) {
  const texts: IncomingPart[] = [];
  const settled: IncomingPart[] = [];
  const states: LinkState[] = [];
  link = new SmppLink(
    {
      ...{ host: '127.0.0.1', port, systemId: 'wren', password: 'x', window: 10 },
      ...{ responseTimeoutMs: 2_000, enquireEveryMs: 60_000 },
    },
    {
      receipt: async () => {},
      text: async (part) => void texts.push(part),
      settled: (part) => void settled.push(part),
      link: (state) => void states.push(state),
      ...over,
    },
  );
  return { texts, settled, up: () => vi.waitFor(() => expect(states).toContain('up')) };
}

const bound = (pdu: PDU, session: Session): void => void session.send(pdu.response());

describe('a delivery', () => {
  it('in the same packet as the answer to the bind is taken and acknowledged', async () => {
    let status: number | null = null;
    const { port } = await centre((pdu, session) => {
      const { socket } = session;
      socket.cork();
      session.send(pdu.response());
      session.deliver_sm({ ...ADDRESSES, short_message: { message: 'STOP' } }, (response) => {
        status = response.command_status;
      });
      socket.uncork();
    });
    const { texts } = connect(port);
    await vi.waitFor(() => expect(status).toBe(0));
    expect(texts).toMatchObject([
      { body: 'STOP', from: '+13035550142', to: '+17195550110', carrierId: null },
    ]);
  });

  it('whose body stands in message_payload is read', async () => {
    const { port, deliver } = await centre(bound);
    const { texts, up } = connect(port);
    await up();
    expect(await deliver({ short_message: Buffer.alloc(0), message_payload: { message: 'STOP' } })).toBe(0);
    expect(texts).toMatchObject([{ body: 'STOP' }]);
  });

  it('cut by sar_* comes as parts of one text', async () => {
    const { port, deliver } = await centre(bound);
    const { texts, up } = connect(port);
    await up();
    for (const [i, message] of ['please st', 'op texting'].entries())
      await deliver({
        short_message: { message },
        ...{ sar_msg_ref_num: 513, sar_total_segments: 2, sar_segment_seqnum: i + 1 },
      });
    expect(texts.map(({ body, concat }) => [body, concat])).toEqual([
      ['please st', { reference: 513, total: 2, index: 1 }],
      ['op texting', { reference: 513, total: 2, index: 2 }],
    ]);
  });

  it('counts as known to the carrier once it answered something we wrote after it', async () => {
    const { port, deliver } = await centre(bound);
    const { settled, up } = connect(port);
    await up();
    await deliver({ short_message: { message: 'sky' } });
    await vi.waitFor(() => expect(settled).toMatchObject([{ body: 'sky' }]));
  });

  it('does not count as known when the line breaks right after', async () => {
    const { port, deliver, session } = await centre(bound);
    const { texts, settled, up } = connect(port, {
      text: async (part) => {
        texts.push(part);
        session().socket.destroy();
      },
    });
    await up();
    void deliver({ short_message: { message: 'sky' } });
    await vi.waitFor(() => expect(texts).toHaveLength(1));
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(settled).toEqual([]);
  });

  it('that could not be stored is asked for again', async () => {
    const silent = vi.spyOn(console, 'error').mockImplementation(() => {});
    const { port, deliver } = await centre(bound);
    const { up } = connect(port, { text: () => Promise.reject(new Error('no database')) });
    await up();
    expect(await deliver({ short_message: { message: 'sky' } })).toBe(0x64);
    silent.mockRestore();
  });
});
