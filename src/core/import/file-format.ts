/** Files of rows, by what is in them. */
export type FileFormat = 'csv' | 'xlsx' | 'ods' | 'xls' | 'xml' | 'html' | 'vcard';

/** Those with sheets. */
export type Workbook = Extract<FileFormat, 'xlsx' | 'ods' | 'xls'>;

export const isWorkbook = (format: FileFormat): format is Workbook =>
  format === 'xlsx' || format === 'ods' || format === 'xls';

/** Endings and media types of files that hold a table, as the choice of a file in a page takes them. */
export const TABLE_FILES = '.csv,.tsv,.txt,.xlsx,.ods,.xls,.xml,.html,.htm,text/csv';

export const FORMAT_WORDS: Record<FileFormat, string> = {
  csv: 'table of text',
  xlsx: 'Excel workbook',
  ods: 'OpenDocument spreadsheet',
  xls: 'old Excel workbook',
  xml: 'old Excel workbook, as XML',
  html: 'table of a web page',
  vcard: 'vCard',
};
