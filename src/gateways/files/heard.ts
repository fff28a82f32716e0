import { Parser, type Handler, type ParserOptions } from 'htmlparser2';
import type { FileRow } from './file-row';

/** Hears the tags of a document, and keeps rows until they are taken. */
export interface RowsHeard extends Partial<Handler> {
  take(): FileRow[];
}

/** Rows of a document of tags, as they come. */
export async function* rowsHeard(
  texts: AsyncIterable<string>,
  hears: RowsHeard,
  options: ParserOptions,
): AsyncGenerator<FileRow[]> {
  const parser = new Parser(hears, options);
  for await (const text of texts) {
    parser.write(text);
    const rows = hears.take();
    if (rows.length > 0) yield rows;
  }
  parser.end();
  const rows = hears.take();
  if (rows.length > 0) yield rows;
}
