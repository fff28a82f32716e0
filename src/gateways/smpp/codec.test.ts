import smpp, { type PDU } from 'smpp';
import { describe, expect, it } from 'vitest';
import { readDeliver, readPdu, submitPdu } from './codec';
import type { OutgoingPart } from '../carrier';

const part = (over: Partial<OutgoingPart> = {}): OutgoingPart => ({
  from: '+17195550110',
  to: '+13035550142',
  body: 'Hi',
  alphabet: 'GSM-7',
  concat: null,
  userReference: 0x1230,
  validitySeconds: 14_400,
  ...over,
});
/** What an independent reader makes of our bytes. */
const read = (over: Partial<OutgoingPart>) => new smpp.PDU(submitPdu(part(over), 77)!);
const textOf = (pdu: PDU) => (pdu.short_message as { message: string }).message;

describe('a submit', () => {
  it('names both numbers as international, asks for a receipt and carries the reference', () =>
    expect(read({})).toMatchObject({
      command: 'submit_sm',
      sequence_number: 77,
      source_addr_ton: 1,
      source_addr_npi: 1,
      source_addr: '17195550110',
      dest_addr_ton: 1,
      destination_addr: '13035550142',
      registered_delivery: 1,
      data_coding: 0,
      esm_class: 0,
      user_message_reference: 0x1230,
    }));

  it('marks a short code as such', () =>
    expect(read({ from: '55501' })).toMatchObject({
      source_addr_ton: 3,
      source_addr_npi: 0,
      source_addr: '55501',
    }));

  it('gives the validity as a relative time', () => {
    const bytes = submitPdu(part({ validitySeconds: 4 * 3_600 + 61 }), 1)!.toString('latin1');
    expect(bytes).toContain('000000040101000R');
    expect(submitPdu(part({ validitySeconds: 2 * 86_400 }), 1)!.toString('latin1')).toContain(
      '000002000000000R',
    );
  });

  it.each([
    ['GSM-7', '@£$ èéù {[€]} ^~|\\ ÄÖÑÜ', 0],
    ['UCS-2', 'Łódź 😀 李', 8],
  ] as const)('carries %s so that it can be read', (alphabet, body, coding) => {
    const pdu = read({ alphabet, body });
    expect([pdu.data_coding, textOf(pdu)]).toEqual([coding, body]);
  });

  it('puts the concatenation header before a part', () => {
    const pdu = read({ concat: { reference: 200, total: 3, index: 2 } });
    expect(pdu.esm_class).toBe(0x40);
    expect((pdu.short_message as { udh: Buffer[] }).udh.map((element) => [...element])).toEqual([
      [0, 3, 200, 3, 2],
    ]);
  });
});

const deliver = (fields: Record<string, unknown>) => {
  const pdu = new smpp.PDU('deliver_sm', {
    source_addr_ton: 1,
    source_addr_npi: 1,
    source_addr: '13035550142',
    dest_addr_ton: 1,
    dest_addr_npi: 1,
    destination_addr: '17195550110',
    ...fields,
  });
  return readDeliver(readPdu(pdu.toBuffer()));
};
const RECEIPT =
  'id:abc sub:001 dlvrd:001 submit date:2611241200 done date:2611241201 stat:DELIVRD err:000 text:Hi';

describe('a delivery', () => {
  it.each([
    ['text alone', { short_message: { message: RECEIPT } }, 'abc', 'DELIVRD', '000'],
    [
      'fields of its own before the text',
      { short_message: { message: RECEIPT }, receipted_message_id: 'xyz', message_state: 5 },
      'xyz',
      'UNDELIV',
      '000',
    ],
    [
      'an error code',
      { short_message: { message: RECEIPT.replace('DELIVRD', 'REJECTD').replace('err:000', 'err:040') } },
      'abc',
      'REJECTD',
      '040',
    ],
    [
      'lower case and spaces',
      { short_message: { message: 'ID: abc Stat: expired Err: 027' } },
      'abc',
      'EXPIRED',
      '027',
    ],
  ])('is read as a receipt from %s', (_, fields, carrierId, stat, err) =>
    expect(deliver({ esm_class: 0x04, data_coding: 0, ...fields })).toEqual({
      kind: 'receipt',
      receipt: { carrierId, stat, err, number: '+13035550142', userReference: null, byWords: false },
    }),
  );

  it('gives back the reference of the submit', () =>
    expect(
      deliver({ esm_class: 0x04, short_message: { message: RECEIPT }, user_message_reference: 0x1231 }),
    ).toMatchObject({ receipt: { userReference: 0x1231 } }));

  it.each(['', 'STOP', 'id:abc stat:ODD'])(
    'is words when %j cannot be read as the receipt it is marked as',
    (message) =>
      expect(deliver({ esm_class: 0x04, data_coding: 0, short_message: { message } })).toMatchObject({
        kind: 'text',
        part: { body: message },
      }),
  );

  it('is a receipt when it is marked as a notice on the way', () =>
    expect(
      deliver({
        esm_class: 0x20,
        data_coding: 0,
        short_message: { message: RECEIPT.replace('DELIVRD', 'ENROUTE') },
      }),
    ).toMatchObject({ kind: 'receipt', receipt: { stat: 'ENROUTE' } }));

  it.each([
    [0, 'plain @ € text'],
    [8, 'Łódź 😀'],
  ])('is read as a text in coding %d', (coding, message) =>
    expect(deliver({ data_coding: coding, short_message: { message }, receipted_message_id: 'm1' })).toEqual({
      kind: 'text',
      part: { carrierId: 'm1', from: '+13035550142', to: '+17195550110', body: message, concat: null },
    }),
  );

  it.each([
    ['8-bit', [5, 0, 3, 9, 2, 1], { reference: 9, total: 2, index: 1 }],
    ['16-bit', [6, 8, 4, 1, 2, 3, 2], { reference: 258, total: 3, index: 2 }],
    ['another element first', [8, 36, 1, 1, 0, 3, 7, 2, 2], { reference: 7, total: 2, index: 2 }],
    ['none', [3, 36, 1, 1], null],
  ])('has its concatenation read: %s', (_, header, concat) =>
    expect(
      deliver({
        esm_class: 0x40,
        data_coding: 0,
        short_message: Buffer.from([...header, ...Buffer.from('Hi')]),
      }),
    ).toMatchObject({ part: { body: 'Hi', concat } }),
  );

  it('has no id when the carrier gives none', () =>
    expect(deliver({ data_coding: 0, short_message: { message: 'sky' } })).toMatchObject({
      part: { carrierId: null, body: 'sky' },
    }));

  it.each([
    ['default alphabet', 0, Buffer.from('STOP')],
    ['UCS-2', 8, Buffer.from('\u0000S\u0000T\u0000O\u0000P', 'latin1')],
    ['UCS-2 by its message class', 0x18, Buffer.from('\u0000S\u0000T\u0000O\u0000P', 'latin1')],
  ])('is found in message_payload when sm_length is 0: %s', (_, data_coding, message_payload) =>
    expect(deliver({ data_coding, short_message: Buffer.alloc(0), message_payload })).toMatchObject({
      kind: 'text',
      part: { body: 'STOP', concat: null },
    }),
  );

  it('is found in message_payload behind a header, longer than 254 octets', () => {
    const long = 'take me off '.repeat(60);
    const message_payload = Buffer.concat([Buffer.from([5, 0, 3, 9, 2, 1]), Buffer.from(long)]);
    expect(
      deliver({ esm_class: 0x40, data_coding: 0, short_message: Buffer.alloc(0), message_payload }),
    ).toMatchObject({ part: { body: long, concat: { reference: 9, total: 2, index: 1 } } });
  });

  it('is a part when sar_* say so, and a whole text when they say one of one', () => {
    const part = (sar_total_segments: number) =>
      deliver({
        ...{ data_coding: 0, short_message: { message: 'please st' } },
        ...{ sar_msg_ref_num: 0x1234, sar_total_segments, sar_segment_seqnum: 1 },
      });
    expect(part(2)).toMatchObject({
      part: { body: 'please st', concat: { reference: 0x1234, total: 2, index: 1 } },
    });
    expect(part(1)).toMatchObject({ part: { concat: null } });
  });

  it('reads what is left of a frame whose optional parameters are cut off', () => {
    const pdu = new smpp.PDU('deliver_sm', {
      source_addr: '1',
      destination_addr: '2',
      short_message: { message: 'STOP' },
    });
    const frame = Buffer.concat([pdu.toBuffer(), Buffer.from([4, 36, 0, 9, 1])]);
    frame.writeUInt32BE(frame.length, 0);
    let read;
    try {
      read = readDeliver(readPdu(frame));
    } catch {
      // The library refuses it: then the whole frame is refused, which the session tells the carrier.
      return;
    }
    expect(read).toMatchObject({ part: { body: 'STOP' } });
  });
});
