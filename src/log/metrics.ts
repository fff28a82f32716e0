import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';

/** What this process counts, and what is read from the database when somebody asks. Names after the Prometheus conventions. */
export const registry = new Registry();
collectDefaultMetrics({ register: registry, prefix: 'wren_web_' });

const requests = new Histogram({
  name: 'wren_http_request_seconds',
  help: 'How long answers took, by the place of the application and the class of the status.',
  labelNames: ['place', 'status'],
  buckets: [0.01, 0.03, 0.1, 0.3, 1, 3, 10],
  registers: [registry],
});

/** Places a request can be to; whatever else somebody asks for is one. */
const PLACES: ReadonlySet<string> = new Set([
  ...['', 'api', 'inbox', 'sends', 'people', 'programs', 'results', 'numbers', 'settings', 'team', 'tasks'],
  ...[
    'developers',
    'internal',
    'live',
    'health',
    'sign-in',
    'f',
    'p',
    'u',
    'v',
    'm',
    'l',
    'r',
    'mm7',
    '_next',
  ],
]);

/** @param path as it is shown in the log @param ms from its first byte to the end of its answer */
export function timeRequest(path: string, status: number, ms: number): void {
  const place = path.split('/')[1] ?? '';
  requests.observe(
    { place: PLACES.has(place) ? place || 'today' : 'other', status: `${Math.floor(status / 100)}xx` },
    ms / 1_000,
  );
}

const gauge = (name: string, help: string, labelNames: string[] = []): Gauge =>
  new Gauge({ name, help, labelNames, registers: [registry] });

/** What stands in the database, for all workspaces together. */
export const STANDING = {
  due: gauge('wren_messages_due', 'Messages whose time has come and that have not left.', ['channel']),
  dueAge: gauge('wren_messages_due_age_seconds', 'How long the longest of them waits.', ['channel']),
  messages: gauge('wren_messages', 'Messages by what became of them and why.', ['state', 'reason']),
  answers: gauge(
    'wren_answer_seconds',
    'From making to leaving, of automatic answers of the last five minutes.',
    ['quantile'],
  ),
  link: gauge('wren_carrier_link_up', '1: a worker has a link to this carrier.', ['carrier']),
  workers: gauge('wren_workers', 'Workers that are alive.'),
  held: gauge('wren_sending_held', '1: nothing is sent until somebody says go.'),
  happenings: gauge('wren_happenings_lag', 'Happenings a consumer has still to take.', ['consumer']),
  stuck: gauge(
    'wren_rows_stuck',
    'Rows that could not be worked on, by queue; aside: they wait for a human.',
    ['queue', 'aside'],
  ),
};
