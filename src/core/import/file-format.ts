/** Files of rows, by what is in them. */
export type FileFormat = 'csv' | 'xlsx' | 'ods' | 'xls' | 'vcard';

/** Those with sheets. */
export type Workbook = Extract<FileFormat, 'xlsx' | 'ods' | 'xls'>;

export const isWorkbook = (format: FileFormat): format is Workbook =>
  format === 'xlsx' || format === 'ods' || format === 'xls';

export const FORMAT_WORDS: Record<FileFormat, string> = {
  csv: 'table of text',
  xlsx: 'Excel workbook',
  ods: 'OpenDocument spreadsheet',
  xls: 'old Excel workbook',
  vcard: 'vCard',
};
