/** The form of the documents written today. */
export const POSTER_FORMAT = 'steady-wren/poster/1';

export type SheetName = 'a4' | 'letter' | 'table-card' | 'screen' | 'square';
export type Arrangement = 'column' | 'beside' | 'band';

/** What a poster says beside what the rules ask for: that is worded by rule, from the program. */
export interface PosterDocument {
  format: typeof POSTER_FORMAT;
  sheet: SheetName;
  arrangement: Arrangement;
  headline: string;
  /** A line or two below it; empty: none. */
  words: string;
  look: {
    /** `#rrggbb`. */
    colour: string;
    /** A picture, by its id. */
    picture?: string;
  };
}

/** Longest headline and words: more cannot be read in passing. */
export const LONGEST_HEADLINE = 80;
export const LONGEST_WORDS = 240;

export interface Sheet {
  words: string;
  /** In millimetres for print, in pixels for a screen. */
  width: number;
  height: number;
  unit: 'mm' | 'px';
}

/** Source: ISO 216 and ANSI/ASME Y14.1 for paper; a table card is a third of A4; 16:9 and square for screens. */
export const SHEETS: Record<SheetName, Sheet> = {
  a4: { words: 'A4', width: 210, height: 297, unit: 'mm' },
  letter: { words: 'Letter', width: 215.9, height: 279.4, unit: 'mm' },
  'table-card': { words: 'table card', width: 99, height: 210, unit: 'mm' },
  screen: { words: 'screen, 16:9', width: 1920, height: 1080, unit: 'px' },
  square: { words: 'square, for a post', width: 1080, height: 1080, unit: 'px' },
};

export const ARRANGEMENTS: Record<Arrangement, string> = {
  column: 'one column',
  beside: 'words beside the code',
  band: 'headline on a band',
};

export const newPoster = (headline: string): PosterDocument => ({
  format: POSTER_FORMAT,
  ...{ sheet: 'a4', arrangement: 'column', headline, words: '', look: { colour: '#8c3a1c' } },
});

/** Millimetres of a sheet for screens: as if it were printed at 96 dots to the inch. */
export const millimetresOf = ({ unit }: Sheet, length: number): number =>
  unit === 'mm' ? length : (length * 25.4) / 96;
