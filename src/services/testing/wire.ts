import { readFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import Ajv from 'ajv/dist/2020';

interface Described {
  paths: Record<string, Record<string, { requestBody?: Body; responses: Record<string, Body> }>>;
}
interface Body {
  content?: Record<string, { schema?: object }>;
}

const listening = (server: Server): Promise<number> =>
  new Promise((resolve) =>
    server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)),
  );

const bodyOf = async (stream: AsyncIterable<Buffer>): Promise<Buffer> => {
  const chunks: Buffer[] = [];
  for await (const chunk of stream) chunks.push(chunk);
  return Buffer.concat(chunks);
};

/** The wire between a gateway and its stand-in: what goes over it is held to the OpenAPI document both were written from. */
export class Wire {
  /** What did not keep to the document. */
  readonly wrong: string[] = [];
  /** Where the gateway calls, and where the stand-in calls back. */
  url = '';
  back = '';
  readonly #doc: Described;
  // Formats are for those who read it; what they say is what the shapes say.
  readonly #ajv = new Ajv({ strict: false, validateFormats: false });
  #servers: Server[] = [];

  constructor(
    file: string,
    readonly inside: (request: IncomingMessage, response: ServerResponse) => Promise<void>,
  ) {
    this.#doc = JSON.parse(readFileSync(file, 'utf8')) as Described;
    this.#ajv.addSchema(this.#doc, 'doc');
  }

  /** @param told takes what the stand-in tells, as it came */
  async open(told: (body: string) => void): Promise<void> {
    const inside = createServer((request, response) => void this.inside(request, response));
    const inner = `http://127.0.0.1:${await listening(inside)}`;
    const between = createServer((request, response) => void this.#between(inner, request, response));
    const door = createServer((request, response) => {
      void bodyOf(request).then((body) => {
        const said = JSON.parse(body.toString('utf8')) as { events: unknown[] };
        for (const event of said.events) this.#hold('doc#/components/schemas/Event', event);
        told(body.toString('utf8'));
        response.writeHead(204).end();
      });
    });
    this.url = `http://127.0.0.1:${await listening(between)}`;
    this.back = `http://127.0.0.1:${await listening(door)}`;
    this.#servers = [inside, between, door];
  }

  close(): void {
    this.#servers.forEach((server) => server.close());
  }

  #hold(ref: string, value: unknown): void {
    const validate = this.#ajv.compile({ $ref: encodeURI(ref).replaceAll('%23', '#') });
    if (!validate(value)) this.wrong.push(`${ref}: ${this.#ajv.errorsText(validate.errors)}`);
  }

  /** What of a path and a method is written in the document. */
  #operationOf(method: string, path: string) {
    const found = Object.entries(this.#doc.paths).find(([pattern]) =>
      new RegExp(`^${pattern.replace(/\{\w+\}/g, '[^/]+')}$`).test(path),
    );
    const operation = found?.[1][method.toLowerCase()];
    if (!operation) throw new Error(`${method} ${path} is not in the document`);
    const where = `doc#/paths/${found[0].replaceAll('~', '~0').replaceAll('/', '~1')}/${method.toLowerCase()}`;
    return { operation, where };
  }

  /** What goes to and fro is looked at on the way. */
  async #between(inner: string, request: IncomingMessage, response: ServerResponse): Promise<void> {
    const path = request.url!;
    const { operation, where } = this.#operationOf(request.method!, path.split('?')[0]!);
    const body = await bodyOf(request);
    const sent = request.headers['content-type'] ?? '';
    if (operation.requestBody && body.length > 0 && sent === 'application/json')
      this.#hold(`${where}/requestBody/content/application~1json/schema`, JSON.parse(body.toString('utf8')));
    if (body.length > 0 && !operation.requestBody?.content?.[sent])
      this.wrong.push(`${request.method} ${path} was sent as ${sent}`);
    const answer = await fetch(`${inner}${path}`, {
      ...{ method: request.method!, headers: { authorization: request.headers.authorization ?? '' } },
      ...(body.length > 0 ? { body: new Uint8Array(body) } : {}),
    });
    const bytes = Buffer.from(await answer.arrayBuffer());
    const described = operation.responses[String(answer.status)];
    if (!described) this.wrong.push(`${request.method} ${path} is answered ${answer.status}`);
    const type = answer.headers.get('content-type') ?? '';
    if (described?.content?.[type]?.schema)
      this.#hold(
        `${where}/responses/${answer.status}/content/${type.replaceAll('/', '~1')}/schema`,
        JSON.parse(bytes.toString('utf8')),
      );
    response.writeHead(answer.status, { 'content-type': type }).end(bytes);
  }
}
