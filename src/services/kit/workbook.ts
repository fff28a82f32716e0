import { ok, type Result } from '@/core/shared/result';

/** What a workbook of lines of words is as a file. */
interface Workbook {
  type: string;
  name: string;
  body: Uint8Array<ArrayBuffer>;
}

/** A workbook of one sheet in which every cell is words, so that no number or date is made of them. */
export async function textWorkbook(
  name: string,
  lines: readonly (readonly string[])[],
): Promise<Result<Workbook, never>> {
  const { default: writeXlsx } = await import('write-excel-file/node');
  const sheet = lines.map((line) => line.map((value) => ({ value, type: String })));
  return ok({
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    name,
    body: new Uint8Array(await writeXlsx(sheet).toBuffer()),
  });
}
