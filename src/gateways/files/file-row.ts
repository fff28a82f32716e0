/** A row of a file: its number as a spreadsheet counts (a vCard's: the number of the card), and its cells. */
export interface FileRow {
  line: number;
  cells: string[];
}

/** Bytes of a file, again from the start each time it is asked. */
export type OpenFile = () => AsyncIterable<Uint8Array>;
