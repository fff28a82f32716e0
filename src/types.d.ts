declare module 'talisman/metrics/damerau-levenshtein.js' {
  const distance: (a: string, b: string) => number;
  export default distance;
}
declare module 'unhomoglyph' {
  const fold: (text: string) => string;
  export default fold;
}
declare module 'smpp' {
  import type { Socket } from 'node:net';
  export class PDU {
    constructor(command: string | Buffer, options?: Record<string, unknown>);
    command: string;
    command_status: number;
    sequence_number: number;
    esm_class?: number;
    data_coding?: number;
    message_id?: string;
    message_state?: number;
    receipted_message_id?: Buffer | string;
    user_message_reference?: number;
    source_addr?: string;
    source_addr_ton?: number;
    source_addr_npi?: number;
    destination_addr?: string;
    dest_addr_ton?: number;
    dest_addr_npi?: number;
    registered_delivery?: number;
    validity_period?: unknown;
    system_id?: string;
    password?: string;
    short_message?: unknown;
    /** Ours: the undecoded octets of the body, and the optional parameters by tag. */
    raw: { shortMessage: Buffer; optional: ReadonlyMap<number, Buffer> };
    isResponse(): boolean;
    response(options?: Record<string, unknown>): PDU;
    toBuffer(): Buffer;
  }
  export interface Session {
    on(event: string, listener: (pdu: PDU) => void): void;
    send(pdu: PDU, callback?: (response: PDU) => void): boolean;
    deliver_sm(options: Record<string, unknown>, callback?: (response: PDU) => void): boolean;
    close(): void;
    destroy(): void;
    closed: boolean;
    socket: Socket;
  }
  export interface Server {
    listen(port: number, host: string, callback: () => void): void;
    close(callback?: () => void): void;
    on(event: string, listener: (error: Error) => void): void;
    address(): { port: number };
  }
  const smpp: {
    PDU: typeof PDU;
    createServer(options: object, listener: (session: Session) => void): Server;
    /** Letters of the 7-bit alphabet by the number of their national table; 0: the default one. */
    gsmCoder: {
      encode(text: string, table: number): Buffer;
      decode(octets: Buffer, table: number): string;
      getCoder(table: number): { charRegex: RegExp };
    };
  };
  export default smpp;
}
declare module 'class-transformer/cjs/storage.js' {
  export const defaultMetadataStorage: never;
}
declare module 'split-sms' {
  export function split(text: string): { characterSet: 'GSM' | 'Unicode'; parts: { length: number }[] };
}

declare module 'wawoff2' {
  /** A WOFF2 file as the TrueType or OpenType file it holds. */
  export function decompress(woff2: Uint8Array): Promise<Uint8Array>;
}
