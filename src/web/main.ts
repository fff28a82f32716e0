import { log } from '@/log/log';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import next from 'next';
import { ADDRESS_HEADER } from '@/app/address-header';
import { trustedProxies } from '@/services/kit/settings';
import { chatCalls, networkDoor } from './chat-door';
import { callsTold, switchboardDoor } from './call-door';
import { letTellerIn } from './signed-door';
import { registrarCalls, registrarDoor } from './registrar-door';
import { dropDoor, voicemailCalls } from './voicemail-door';
import { formSentTo, takeForm } from './form-door';
import { leadOn, linkFollowed } from './link-door';
import { sourceCalled, takeInquiry } from './inquiry-door';
import { letRelayIn, relayCalls } from './relay-door';
import { getContext } from '@/services/runtime';
import { giveMetrics, metricsAsked } from './metrics-door';
import { logRequest } from './request-log';
import { addressOf, isForeign, isReadable } from './origin';

/**
 * The web process: the framework behind a door of ours. What the framework would believe of a request (where it came
 * from) is written over with what is known, and what it would stumble over is turned away.
 */
async function main(): Promise<void> {
  const port = Number(process.env.PORT ?? 4400);
  const hostname = process.env.WREN_HOST ?? '127.0.0.1';
  const proxies = trustedProxies();
  const app = next({ dev: false, hostname, port });
  const handle = app.getRequestHandler();
  await app.prepare();
  const streams = new Set<ServerResponse>();
  const server = createServer((request, response) => {
    logRequest(request, response);
    if (isForeign(request, proxies)) return refuse(response);
    const url = request.url ?? '/';
    if (!isReadable(url)) request.url = url.startsWith('/api/') ? '/api/v1/nowhere' : '/nowhere';
    sayAddress(request, proxies);
    if (url === '/live' || url.startsWith('/live?')) hold(streams, response);
    const form = formSentTo(request.method, url);
    if (form !== null) return void takeForm(form, request, response);
    const link = linkFollowed(request.method, url);
    if (link !== null) return void leadOn(link, request, response);
    if (metricsAsked(request.method, url)) return void giveMetrics(getContext, request, response);
    const source = sourceCalled(url);
    if (source !== null) return void takeInquiry(getContext, source, request, response);
    const network = chatCalls(request.method, url);
    if (network !== null) return void letTellerIn(networkDoor(getContext, network), request, response);
    const dropped = voicemailCalls(request.method, url);
    if (dropped !== null) return void letTellerIn(dropDoor(getContext, dropped), request, response);
    const registrar = registrarCalls(request.method, url);
    if (registrar !== null) return void letTellerIn(registrarDoor(getContext, registrar), request, response);
    const board = callsTold(request.method, url);
    if (board !== null) return void letTellerIn(switchboardDoor(getContext, board), request, response);
    const relay = relayCalls(request.method, url);
    if (relay !== null) return void letRelayIn(getContext, relay, request, response);
    void handle(request, response);
  });
  // A file of a hundred megabytes over a slow line takes longer than the five minutes that are usual.
  server.requestTimeout = 30 * 60_000;
  server.listen(port, hostname, () => log.info({ ready: 'web', port }));
  const stop = () => {
    server.close(() => process.exit(0));
    // Live pages stay open for as long as they are looked at; they ask again, and find the next process.
    for (const response of streams) response.destroy();
    // What is being answered is answered to its end, as far as that takes no longer than this.
    const idle = setInterval(() => server.closeIdleConnections(), 100);
    setTimeout(() => (clearInterval(idle), server.closeAllConnections()), LONGEST_STOP_MS);
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
}

/** Answers still under way when the process is to end are given so long. */
const LONGEST_STOP_MS = 6_000;

function hold(streams: Set<ServerResponse>, response: ServerResponse): void {
  streams.add(response);
  response.once('close', () => streams.delete(response));
}

function sayAddress(request: IncomingMessage, proxies: number): void {
  const address = addressOf(request.headers, request.socket.remoteAddress ?? 'unknown', proxies);
  request.headers[ADDRESS_HEADER] = address;
  request.headers['x-forwarded-for'] = address;
  if (proxies === 0) delete request.headers['x-forwarded-host'];
}

function refuse(response: ServerResponse): void {
  response
    .writeHead(403, { 'content-type': 'text/plain; charset=utf-8', connection: 'close' })
    .end('Not from another site.');
}

main().catch((error: Error) => {
  log.fatal(error.message);
  process.exit(1);
});
