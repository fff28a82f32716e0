import { createServer, type IncomingHttpHeaders } from 'node:http';
import type { AddressInfo } from 'node:net';

export interface Came {
  headers: IncomingHttpHeaders;
  body: string;
}

/** Somebody else's server on loopback: keeps what came, answers as told in turn, then 204. */
export class Listener {
  came: Came[] = [];
  answers: { status: number; headers?: Record<string, string>; body?: string }[] = [];
  readonly #server = createServer((request, response) => {
    let body = '';
    request.on('data', (chunk: Buffer) => (body += chunk.toString()));
    request.on('end', () => {
      this.came.push({ headers: request.headers, body });
      const { status, headers = {}, body: said = '' } = this.answers.shift() ?? { status: 204 };
      response.writeHead(status, headers).end(said);
    });
  });

  open = () => new Promise<void>((resolve) => this.#server.listen(0, '127.0.0.1', resolve));

  get port(): number {
    return (this.#server.address() as AddressInfo).port;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}/hooks`;
  }

  close(): Promise<void> {
    this.#server.closeAllConnections();
    return new Promise((resolve) => this.#server.close(() => resolve()));
  }
}
