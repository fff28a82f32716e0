import type { FailureReason } from '@/core/delivery/failure';
import type { ReceiptStat } from '@/core/delivery/receipt';
import type { Receipt } from '@/gateways/carrier';
import { carrierIdOf, readXml, reasonOfStatus, under, wordsOf, type Xml } from './answers';
import { partsOf, wordsOfPart, type Part } from './parts';
import { NAMESPACE } from './submit';

/** A picture message that somebody sent. */
export interface IncomingPicture {
  /** The relay's id of it: it brings it again until it is answered. */
  carrierId: string;
  from: string;
  to: string;
  text: string;
  files: { name: string; type: string; bytes: Buffer }[];
}

/** What the relay brings. `answer` is what it is told once that is kept. */
export type Arrival =
  | { kind: 'receipt'; receipt: Receipt; answer: string }
  | { kind: 'picture'; picture: IncomingPicture; answer: string };

/** Reads what the relay sends us: MM7_delivery_report.REQ, MM7_deliver.REQ. Null: it is none of these. */
export function readArrival(contentType: string, body: Buffer): Arrival | null {
  const parts = partsOf(contentType.replace(/[\r\n]+/g, ' '), body);
  const first = parts.find(({ type }) => /^(?:text|application)\/(?:soap\+)?xml$/.test(type));
  const envelope = under(readXml(first ? wordsOfPart(first) : ''), 'Envelope');
  const transaction = wordsOf(envelope, 'Header', 'TransactionID');
  const report = under(envelope, 'Body', 'DeliveryReportReq');
  if (report) return receiptOf(report, transaction);
  const deliver = under(envelope, 'Body', 'DeliverReq');
  const id = wordsOf(deliver, 'LinkedID') || transaction;
  if (!deliver || id === '') return null;
  const rest = parts.filter((part) => part !== first && !part.type.includes('smil'));
  const isWords = ({ type }: Part) => type === 'text/plain';
  // What stands in the subject is said as well, and may be a STOP.
  const said = [wordsOf(deliver, 'Subject'), ...rest.filter(isWords).map(wordsOfPart)];
  return {
    kind: 'picture',
    picture: {
      carrierId: carrierIdOf(id),
      from: numberOf(wordsOf(deliver, 'Sender', 'Number') || wordsOf(deliver, 'Sender')),
      to: numberOf(recipientOf(deliver)),
      text: said
        .map((words) => words.trim())
        .filter(Boolean)
        .join('\n'),
      files: rest
        .filter((part) => !isWords(part))
        .map(({ name, type, bytes }, i) => ({ name: name ?? `file ${i + 1}`, type, bytes })),
    },
    answer: response('DeliverRsp', transaction),
  };
}

function receiptOf(report: Xml, transaction: string): Arrival | null {
  const messageId = wordsOf(report, 'MessageID');
  const status = wordsOf(report, 'MMStatus');
  const stat = STATS[status.toLowerCase()];
  if (messageId === '' || !stat) return null;
  const words = [
    wordsOf(report, 'StatusText'),
    wordsOf(report, 'Details'),
    wordsOf(report, 'MMStatusExtension'),
  ];
  return {
    kind: 'receipt',
    receipt: {
      carrierId: carrierIdOf(messageId),
      ...{ stat, err: status.toLowerCase(), userReference: null },
      number: numberOf(wordsOf(report, 'Recipient', 'Number') || wordsOf(report, 'Recipient')),
      ...(stat === 'DELIVRD'
        ? {}
        : { failure: FAILURES[status.toLowerCase()] ?? reasonOfStatus(0, words.join(' ')) }),
    },
    answer: response('DeliveryReportRsp', transaction),
  };
}

/** MMStatus as our receipts say it. Source: TS 23.140, 8.7.3.3. */
const STATS: Record<string, ReceiptStat> = {
  retrieved: 'DELIVRD',
  expired: 'EXPIRED',
  rejected: 'REJECTD',
  unreachable: 'UNDELIV',
  deferred: 'ENROUTE',
  indeterminate: 'UNKNOWN',
  forwarded: 'ENROUTE',
};
const FAILURES: Record<string, FailureReason> = { expired: 'unreachable', unreachable: 'unreachable' };

const recipientOf = (deliver: Xml): string => {
  const to = under(deliver, 'Recipients', 'To');
  return wordsOf(to, 'Number') || wordsOf(to, 'ShortCode');
};

/** Relays write a number with its plan behind it, as in `+17195550110/TYPE=PLMN`, or without the plus. */
function numberOf(text: string): string {
  const number = text.replace(/\/TYPE=.*$/i, '').replace(/[^\d+]/g, '');
  return number.startsWith('+') || number.length < 10 ? number : `+${number}`;
}

const response = (name: string, transaction: string): string =>
  `<?xml version="1.0" encoding="UTF-8"?><env:Envelope xmlns:env="http://schemas.xmlsoap.org/soap/envelope/">` +
  `<env:Header><TransactionID xmlns="${NAMESPACE}" env:mustUnderstand="1">${transaction.replace(/[&<>"']/g, '')}</TransactionID></env:Header>` +
  `<env:Body><${name} xmlns="${NAMESPACE}"><MM7Version>6.8.0</MM7Version><Status><StatusCode>1000</StatusCode><StatusText>Success</StatusText></Status></${name}></env:Body></env:Envelope>`;
