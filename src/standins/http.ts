import { createReadStream } from 'node:fs';
import { createRequire } from 'node:module';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { SimulatedCarrier } from './carrier';
import { parseDuration, type BenchClock } from './clock';
import { BEHAVIOURS, FIXED_NUMBERS, fixedBehaviour, readFaults, type Behaviour } from './faults';
import type { Handset, Handsets } from './handsets';
import { readMoods } from './chat/moods';
import type { SimulatedNetwork } from './chat/network';
import { FIXED_MAILBOXES, type MailAct, type Mailboxes } from './mailboxes';
import { PAGE } from './page';
import type { Asking, Portals } from './portals';
import { readHabits } from './smpp/habits';
import type { SimulatedDropper } from './dropper';
import type { SimulatedRegistrar } from './registrar';
import type { SimulatedStock } from './stock';
import type { SimulatedRelay } from './relay';
import { BOARD_NUMBERS, type CallAct, type SimulatedSwitchboard } from './switchboard';
import { readTelling } from './telling';

interface World {
  mailboxes: Mailboxes;
  clock: BenchClock;
  handsets: Handsets;
  carrier: SimulatedCarrier;
  /** Another one, with a contract and habits of its own. */
  second: SimulatedCarrier;
  relay: SimulatedRelay;
  chat: SimulatedNetwork;
  portals: Portals;
  dropper: SimulatedDropper;
  registrar: SimulatedRegistrar;
  stock: SimulatedStock;
  board: SimulatedSwitchboard;
}

type Reply = { status: number; body: unknown };
/** `named`: what the path names. */
type Handler = (world: World, input: Record<string, unknown>, named: string) => Reply | Promise<Reply>;

const fine = (body: unknown, status = 200): Reply => ({ status, body });
const wrong = (detail: string, status = 400): Reply => ({
  status,
  body: { status, title: 'Not understood', detail },
});

/** The test bench's HTTP API, on loopback only. See docs/operations.md. */
const ROUTES: [method: string, path: RegExp, handler: Handler][] = [
  ['GET', /^\/health$/, () => fine({ ok: true })],
  ['POST', /^\/handsets$/, createHandset],
  ['GET', /^\/handsets$/, ({ handsets }) => fine({ handsets: handsets.pinned() })],
  ['POST', /^\/handsets\/([^/]+)\/texts$/, sendText],
  ['GET', /^\/handsets\/([^/]+)\/texts$/, readTexts],
  ['POST', /^\/handsets\/([^/]+)\/pictures$/, sendPicture],
  ['POST', /^\/handsets\/([^/]+)\/chats$/, sendChat],
  ['POST', /^\/handsets\/([^/]+)\/block$/, blockChat],
  ['GET', /^\/chat$/, ({ chat }) => fine({ accounts: chat.accounts(), moods: chat.moods, ...chat.counts })],
  ['PUT', /^\/chat\/moods$/, setMoods],
  ['GET', /^\/chat\/book$/, ({ chat }) => fine(chat.written())],
  ['PUT', /^\/chat\/book$/, ({ chat }, book) => (chat.rewrite(book), fine({ read: true }))],
  ['PUT', /^\/chat\/accounts\/([^/]+)$/, setChatAccount],
  ['PUT', /^\/chat\/templates\/([^/]+)$/, setChatTemplate],
  ['GET', /^\/portals$/, ({ portals }) => fine(portals.view())],
  ['PUT', /^\/portals\/([^/]+)$/, setPortal],
  ['POST', /^\/portals\/([^/]+)\/inquiries$/, askOnPortal],
  ['GET', /^\/stock$/, ({ stock }) => fine(stock.view())],
  ['PUT', /^\/stock\/moods$/, setStockMoods],
  ['GET', /^\/registrar$/, ({ registrar }) => fine(registrar.view())],
  ['GET', /^\/registrar\/book$/, ({ registrar }) => fine(registrar.written())],
  ['PUT', /^\/registrar\/book$/, ({ registrar }, book) => (registrar.rewrite(book), fine({ read: true }))],
  ['PUT', /^\/registrar\/moods$/, setRegistrarMoods],
  ['PUT', /^\/registrar\/applications\/([^/]+)$/, decideApplication],
  ['GET', /^\/voicemails$/, ({ dropper }) => fine(dropper.view())],
  ['PUT', /^\/voicemails\/moods$/, setDropMoods],
  ['PUT', /^\/voicemails\/accounts\/([^/]+)$/, setDropAccount],
  ['GET', /^\/switchboard$/, ({ board }) => fine(board.view())],
  ['PUT', /^\/switchboard$/, setBoard],
  ['PUT', /^\/switchboard\/moods$/, setBoardMoods],
  ['GET', /^\/switchboard\/numbers$/, () => fine({ numbers: BOARD_NUMBERS })],
  ['POST', /^\/switchboard\/calls$/, ringUp],
  ['POST', /^\/switchboard\/calls\/([^/]+)$/, actOnCall],
  ['GET', /^\/clock$/, ({ clock }) => fine(clockBody(clock))],
  ['POST', /^\/clock$/, moveClock],
  ['GET', /^\/(carrier|second)$/, readCarrier],
  ['GET', /^\/(carrier|second)\/faults$/, (world, _, which) => fine(carrierOf(world, which).faults)],
  ['PUT', /^\/(carrier|second)\/faults$/, setFaults],
  ['GET', /^\/(carrier|second)\/habits$/, (world, _, which) => fine(carrierOf(world, which).habits)],
  ['PUT', /^\/(carrier|second)\/habits$/, setHabits],
  [
    'POST',
    /^\/(carrier|second)\/drop$/,
    (world, _, which) => (carrierOf(world, which).dropLinks(), fine({ dropped: true })),
  ],
  ['POST', /^\/lookup$/, lookUp],
  [
    'GET',
    /^\/mailboxes$/,
    ({ mailboxes }) => fine({ mailboxes: mailboxes.addresses(), fixed: FIXED_MAILBOXES }),
  ],
  ['GET', /^\/mails$/, ({ mailboxes }) => fine({ mails: mailboxes.mails(null).slice(0, 100) })],
  [
    'GET',
    /^\/mailboxes\/([^/]+)\/mails$/,
    ({ mailboxes }, _, address) => fine({ mails: mailboxes.mails(address.toLowerCase()).slice(0, 100) }),
  ],
  ['POST', /^\/mails\/([^/]+)$/, actOnMail],
  ['GET', /^\/numbers$/, () => fine({ numbers: FIXED_NUMBERS })],
];

const carrierOf = (world: World, which: string): SimulatedCarrier =>
  which === 'second' ? world.second : world.carrier;

function readCarrier(world: World, _: Record<string, unknown>, which: string): Reply {
  const { links, counts, faults, habits } = carrierOf(world, which);
  const pictures = which === 'second' ? {} : { pictures: world.relay.counts };
  return fine({ links, ...counts, ...pictures, faults, habits });
}

const clockBody = (clock: BenchClock) => ({
  now: new Date(clock.now()).toISOString(),
  offset_ms: clock.offset,
});

const e164 = (value: unknown): string | null => {
  if (typeof value !== 'string') return null;
  const digits = value.replace(/[\s().-]/g, '');
  return /^\+[1-9]\d{7,14}$/.test(digits) ? digits : /^\d{10}$/.test(digits) ? `+1${digits}` : null;
};

/** A handset by its number, or by the id a network gave it: letters with a digit or a hyphen, such as owl-7. */
const chatIdOf = (text: string): string | null =>
  e164(text) ?? (/^(?=.*[a-z])(?=.*[\d-])[\w.-]{2,120}$/i.test(text) ? text : null);

const view = ({ number, behaviour, texts }: Handset) => ({ number, behaviour, texts: texts.length });

function createHandset({ handsets }: World, { number, behaviour }: Record<string, unknown>): Reply {
  const known = typeof number === 'string' ? chatIdOf(number) : null;
  if (!known) return wrong('number: give a number in E.164 form, such as +13035550142, or a chat id.');
  if (behaviour !== undefined && !BEHAVIOURS.includes(behaviour as Behaviour))
    return wrong(`behaviour: one of ${BEHAVIOURS.join(', ')}.`);
  const handset = handsets.get(known);
  handset.pinned = true;
  if (behaviour) handset.behaviour = behaviour as Behaviour;
  return fine(view(handset), 201);
}

function sendText(
  { handsets, carrier, second, clock }: World,
  { to, body }: Record<string, unknown>,
  number: string,
): Reply {
  const from = e164(number);
  if (!from) return wrong('number: the handset in the path is not a number in E.164 form.');
  const target = e164(to) ?? (typeof to === 'string' && /^\d{3,8}$/.test(to) ? to : null);
  if (!target) return wrong('to: give the number to text, in E.164 form, or a short code.');
  if (typeof body !== 'string' || body.length > 1_600)
    return wrong('body: give a text of at most 1,600 characters.');
  handsets.sent({
    direction: 'out',
    from,
    to: target,
    body,
    at: new Date(clock.now()).toISOString(),
    parts: 1,
  });
  // It comes over the carrier that carries the number, as far as that one has shown it.
  const over = second.carries(target) ? second : carrier;
  return fine({ id: over.inbound(from, target, body) }, 202);
}

/** A picture message from a handset; its files in base 64. */
async function sendPicture(
  { relay }: World,
  { to, body = '', files }: Record<string, unknown>,
  number: string,
): Promise<Reply> {
  const from = e164(number);
  const target = e164(to);
  if (!from || !target) return wrong('to: give two numbers in E.164 form.');
  if (typeof body !== 'string') return wrong('body: must be words.');
  const read = Array.isArray(files) ? files.map(fileOf) : [];
  if (read.length === 0 || read.includes(null))
    return wrong('files: give a list of files, each with name, type and content in base 64.');
  const brought = await relay.inbound(from, target, body, read as NonNullable<(typeof read)[number]>[]);
  return brought ? fine({ brought }, 202) : wrong('The application did not take it.', 409);
}

function fileOf(value: unknown): { name: string; type: string; bytes: Buffer } | null {
  const { name, type, content } = (value ?? {}) as Record<string, unknown>;
  if (typeof name !== 'string' || typeof type !== 'string' || typeof content !== 'string') return null;
  if (!/^[\w.+-]+\/[\w.+-]+$/.test(type) || /["\r\n]/.test(name)) return null;
  return { name, type, bytes: Buffer.from(content, 'base64') };
}

function sendChat(
  { chat }: World,
  { to, body = '', button, files, profile }: Record<string, unknown>,
  who: string,
): Reply {
  const from = chatIdOf(who);
  if (!from || typeof to !== 'string') return wrong('to: give the address or the id of a chat account.');
  if (typeof body !== 'string' || (body.trim() === '' && button === undefined && !Array.isArray(files)))
    return wrong('body: write something, press a button, or send a file.');
  const read = Array.isArray(files) ? files.map(fileOf) : [];
  if (read.includes(null))
    return wrong('files: give a list of files, each with name, type and content in base 64.');
  const trouble = chat.write(from, e164(to) ?? to, {
    text: body,
    ...(typeof button === 'string' ? { button } : {}),
    files: read as NonNullable<(typeof read)[number]>[],
    profile: (profile ?? {}) as { name?: string; language?: string },
  });
  return trouble === null ? fine({ sent: true }, 202) : wrong(trouble);
}

function blockChat({ chat }: World, { to, blocked = true }: Record<string, unknown>, who: string): Reply {
  const from = chatIdOf(who);
  if (!from || typeof to !== 'string') return wrong('to: give the address or the id of a chat account.');
  const trouble = chat.block(from, e164(to) ?? to, blocked !== false);
  return trouble === null ? fine({ blocked: blocked !== false }) : wrong(trouble);
}

function setMoods({ chat }: World, input: Record<string, unknown>): Reply {
  const moods = readMoods(input, chat.moods);
  if (typeof moods === 'string') return wrong(moods);
  chat.moods = moods;
  return fine(moods);
}

function setChatAccount({ chat }: World, input: Record<string, unknown>, id: string): Reply {
  return chat.setAccount(id, input) ? fine({ id }) : wrong('There is no such chat account.', 404);
}

function setChatTemplate(
  { chat }: World,
  { account, state, reason }: Record<string, unknown>,
  id: string,
): Reply {
  const done = chat.decide(
    String(account),
    id,
    String(state),
    typeof reason === 'string' ? reason : undefined,
  );
  return done ? fine({ id, state }) : wrong('account and state: no such account, template or state.', 404);
}

function readTexts({ handsets }: World, _: Record<string, unknown>, number: string): Reply {
  const known = chatIdOf(number);
  if (!known) return wrong('number: not a number in E.164 form, and no chat id.');
  const texts = handsets.find(known)?.texts ?? [];
  return fine({
    texts: texts
      .filter(({ direction }) => direction === 'in')
      .map(({ from, body, at, parts, files = [], chat, buttons = [], voicemail }) => ({
        ...{ from, body, at, parts, files },
        ...(voicemail ? { voicemail } : {}),
        ...(chat ? { chat, buttons } : {}),
      })),
  });
}

function setPortal({ portals }: World, input: Record<string, unknown>, id: string): Reply {
  const trouble = portals.set(id, input);
  return trouble === null ? fine({ id }) : wrong(trouble);
}

function askOnPortal({ portals }: World, input: Record<string, unknown>, id: string): Reply {
  const { name = '', number = '', email = '', what = '', words = '' } = input;
  const asking = { name, number, email, what, words };
  for (const [field, value] of Object.entries(asking))
    if (typeof value !== 'string' || value.length > 2_000)
      return wrong(`${field}: give at most 2,000 characters.`);
  const asked = portals.ask(id, asking as Asking);
  return typeof asked === 'string' ? wrong(asked) : fine(asked, 202);
}

function setStockMoods({ stock }: World, input: Record<string, unknown>): Reply {
  const wrongly = stock.setMoods(input);
  return wrongly === null ? fine(stock.moods) : wrong(wrongly);
}

function setRegistrarMoods({ registrar }: World, input: Record<string, unknown>): Reply {
  const wrongly = registrar.setMoods(input);
  return wrongly === null ? fine(registrar.moods) : wrong(wrongly);
}

function decideApplication({ registrar }: World, input: Record<string, unknown>, id: string): Reply {
  const wrongly = registrar.decide(id, input);
  return wrongly === null ? fine({ reference: id, state: input.state }) : wrong(wrongly);
}

function setDropMoods({ dropper }: World, input: Record<string, unknown>): Reply {
  const moods = readTelling(input, dropper.moods);
  if (typeof moods === 'string') return wrong(moods);
  dropper.moods = moods;
  return fine(moods);
}

function setDropAccount({ dropper }: World, { state }: Record<string, unknown>, id: string): Reply {
  return dropper.setAccount(id, state)
    ? fine({ id, state })
    : wrong('state: open or closed, of an account there is.', 404);
}

function setBoard({ board }: World, { to, secret }: Record<string, unknown>): Reply {
  if (typeof to !== 'string' || !/^(https?:\/\/\S+)?$/.test(to))
    return wrong('to: give an address of the web.');
  board.set({ to, ...(typeof secret === 'string' ? { secret } : {}) });
  return fine({ to });
}

function setBoardMoods({ board }: World, input: Record<string, unknown>): Reply {
  const moods = readTelling(input, board.moods);
  if (typeof moods === 'string') return wrong(moods);
  board.moods = moods;
  return fine(moods);
}

function ringUp({ board }: World, input: Record<string, unknown>): Reply {
  const [from, to] = [e164(input.from), e164(input.to)];
  if (!from || !to) return wrong('from and to: give two numbers in E.164 form.');
  const direction = input.direction === 'outbound' ? 'outbound' : 'inbound';
  return fine(board.ring(from, to, direction, typeof input.agent === 'string' ? input.agent : ''), 201);
}

const CALL_ACTS: readonly CallAct[] = ['answer', 'miss', 'hang-up', 'tag'];

function actOnCall({ board }: World, input: Record<string, unknown>, id: string): Reply {
  const { act } = input;
  if (!CALL_ACTS.includes(act as CallAct)) return wrong(`act: one of ${CALL_ACTS.join(', ')}.`);
  const words = (name: string) => {
    const value = input[name];
    return typeof value === 'string' && value !== '' ? { [name]: value.slice(0, 500) } : {};
  };
  const trouble = board.act(id, act as CallAct, { ...words('agent'), ...words('outcome'), ...words('note') });
  return trouble === null ? fine({ id }) : wrong(trouble, 409);
}

const MAIL_ACTS: readonly MailAct[] = ['answer', 'return', 'full', 'complain', 'leave', 'follow'];

async function actOnMail(
  { mailboxes }: World,
  { act, words = '' }: Record<string, unknown>,
  id: string,
): Promise<Reply> {
  const mail = mailboxes.find(id);
  if (!mail) return wrong('There is no such letter.', 404);
  if (!MAIL_ACTS.includes(act as MailAct)) return wrong(`act: one of ${MAIL_ACTS.join(', ')}.`);
  if (typeof words !== 'string' || words.length > 10_000)
    return wrong('words: give what is written, at most 10,000 characters.');
  if (act === 'answer' && words.trim() === '') return wrong('words: write something first.');
  const trouble = await mailboxes.act(mail, act as MailAct, words);
  return trouble === null ? fine({ done: act }) : wrong(trouble, 409);
}

function moveClock({ clock }: World, { advance }: Record<string, unknown>): Reply {
  const ms = parseDuration(advance);
  if (ms === null)
    return wrong(
      'advance: give an ISO 8601 duration of weeks, days, hours, minutes or seconds, such as PT15M or P1D.',
    );
  if (ms > 400 * 86_400_000) return wrong('advance: at most 400 days at once.');
  clock.advance(ms);
  return fine(clockBody(clock));
}

/** The look-up service: a line is what its handset is; every other one is mobile. */
function lookUp({ handsets }: World, { numbers }: Record<string, unknown>): Reply {
  if (!Array.isArray(numbers) || numbers.length > 1_000 || numbers.some((one) => typeof one !== 'string'))
    return wrong('numbers: give a list of at most 1,000 numbers in E.164 form.');
  const typeOf = (number: string) => {
    const behaviour = handsets.find(number)?.behaviour ?? fixedBehaviour(number);
    return behaviour === 'landline' ? 'landline' : behaviour === 'unknown-number' ? 'unknown' : 'mobile';
  };
  return fine({ numbers: (numbers as string[]).map((number) => ({ number, line_type: typeOf(number) })) });
}

function setFaults(world: World, input: Record<string, unknown>, which: string): Reply {
  const carrier = carrierOf(world, which);
  const faults = readFaults(input, carrier.faults);
  if (typeof faults === 'string') return wrong(faults);
  carrier.faults = faults;
  return fine(faults);
}

function setHabits(world: World, input: Record<string, unknown>, which: string): Reply {
  const carrier = carrierOf(world, which);
  const habits = readHabits(input, carrier.habits);
  if (typeof habits === 'string') return wrong(habits);
  carrier.habits = habits;
  return fine(habits);
}

export function serveBench(world: World, port: number): Promise<number> {
  const server = createServer((request, response) => {
    // An address that cannot be read must not take the bench down with it.
    answer(world, request, response).catch((error: Error) => send(response, wrong(error.message)));
  });
  return new Promise((resolve, reject) => {
    server.on('error', reject);
    server.listen(port, '127.0.0.1', () => resolve((server.address() as { port: number }).port));
  });
}

async function answer(world: World, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const { pathname: path, searchParams: query } = new URL(request.url ?? '/', 'http://bench');
  // A page of another site must not drive the bench through the browser.
  if (!/^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(request.headers.host ?? ''))
    return send(response, wrong('The bench answers on loopback only.', 403));
  if (request.method === 'GET' && path === '/')
    return void response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(PAGE);
  const sound = /^\/voicemail\/sounds\/([\w-]+)$/.exec(path)?.[1];
  if (request.method === 'GET' && sound) return sendSound(world, sound, response);
  if (path.startsWith('/voicemail/'))
    return world.dropper.take(request, response, path.slice('/voicemail'.length));
  if (path.startsWith('/stock/accounts/'))
    return world.stock.take(request, response, path.slice('/stock'.length), query);
  if (path.startsWith('/registrar/accounts/'))
    return world.registrar.take(request, response, path.slice('/registrar'.length));
  if (path.startsWith('/network/')) return world.chat.take(request, response, path.slice('/network'.length));
  if (request.method === 'POST' && path === '/mm7') return world.relay.take(request, response);
  const shown = /^\/files\/(\w+)$/.exec(path)?.[1];
  if (request.method === 'GET' && shown) return sendFile(world, shown, response);
  const face = /^\/faces\/([a-z]+)\.woff2$/.exec(path)?.[1];
  if (request.method === 'GET' && face && face in FACES) return sendFace(response, FACES[face]!);
  if (request.method === 'GET' && path === '/stream') return stream(world, response);
  const route = ROUTES.find(([method, pattern]) => method === request.method && pattern.test(path));
  if (!route) return send(response, wrong(`There is nothing at ${request.method} ${path}.`, 404));
  const body = await readJson(request, largestOf(path));
  if (typeof body === 'string') return send(response, wrong(body));
  send(response, await route[2](world, body, decodeURIComponent(route[1].exec(path)?.[1] ?? '')));
}

/** The product's own faces, as they are shipped with it. */
const FACES: Record<string, string> = {
  text: '@fontsource-variable/instrument-sans/files/instrument-sans-latin-wght-normal.woff2',
  head: '@fontsource-variable/newsreader/files/newsreader-latin-wght-normal.woff2',
};

/** A file as a handset shows it; only what cannot carry a script. */
function sendFile({ relay }: World, id: string, response: ServerResponse): void {
  const file = relay.file(id);
  if (!file) return send(response, wrong('There is no such file.', 404));
  response
    .writeHead(200, {
      'content-type': /^(image\/(?!svg)|audio\/|video\/)/.test(file.type)
        ? file.type
        : 'application/octet-stream',
      'content-security-policy': `default-src 'none'; sandbox`,
    })
    .end(file.bytes);
}

function sendSound({ dropper }: World, id: string, response: ServerResponse): void {
  const bytes = dropper.sound(id);
  if (!bytes) return send(response, wrong('There is no such sound any more.', 404));
  response.writeHead(200, { 'content-type': 'audio/wav', 'content-length': bytes.length }).end(bytes);
}

function sendFace(response: ServerResponse, file: string): void {
  response.writeHead(200, { 'content-type': 'font/woff2', 'cache-control': 'max-age=86400' });
  createReadStream(createRequire(import.meta.url).resolve(file))
    .on('error', () => response.end())
    .pipe(response);
}

function send(response: ServerResponse, { status, body }: Reply): void {
  response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
}

/** Pictures come in base 64; anything else is some words. */
const largestOf = (path: string): number => (/\/(pictures|chats|book)$/.test(path) ? 8_000_000 : 100_000);

async function readJson(
  request: IncomingMessage,
  largest: number,
): Promise<Record<string, unknown> | string> {
  if (request.method === 'GET') return {};
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request) {
    size += (chunk as Buffer).length;
    if (size > largest) return `The body is larger than ${largest / 1_000} kB.`;
    chunks.push(chunk as Buffer);
  }
  if (size === 0) return {};
  try {
    const value: unknown = JSON.parse(Buffer.concat(chunks).toString('utf8'));
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Record<string, unknown>)
      : 'Send a JSON object.';
  } catch {
    return 'The body is not JSON.';
  }
}

/** Server-sent events: the clock at once and after each move, and a nudge when a pinned handset changes. */
function stream({ clock, handsets }: World, response: ServerResponse): void {
  response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
  const tellClock = () => response.write(`event: clock\ndata: ${JSON.stringify(clockBody(clock))}\n\n`);
  let nudge: NodeJS.Timeout | null = null;
  const tellTexts = () => {
    nudge ??= setTimeout(() => {
      nudge = null;
      response.write('event: texts\ndata: {}\n\n');
    }, 100);
  };
  tellClock();
  const stops = [clock.onMove(tellClock), handsets.onChange(tellTexts)];
  const beat = setInterval(() => response.write(': still here\n\n'), 15_000);
  response.on('close', () => {
    clearInterval(beat);
    if (nudge) clearTimeout(nudge);
    stops.forEach((stop) => stop());
  });
}
