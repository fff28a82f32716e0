/** What sends many messages. Each is a row of its room with a row in the table of sends beside it, under the same id. */
export type SendKind = 'broadcast' | 'batch' | 'sequence' | 'stack';

/** Whether what a send has not sent yet may leave, waits for somebody, or is called back. */
export type SendGoes = 'on' | 'waits' | 'over';
