/**
 * National language tables of the GSM 7-bit alphabet, as differences from the default ones: what phones set to Turkish,
 * Spanish or Portuguese write in. Source: 3GPP TS 23.038, annex A; the numbers are those of the header elements 0x24
 * (single shift) and 0x25 (locking shift) of TS 23.040, 9.2.3.24.15 and .16.
 */
const TURKISH = 1;
const SPANISH = 2;
const PORTUGUESE = 3;

type Difference = Readonly<Record<number, string>>;

/** The table after an escape, by language. */
export const SINGLE_SHIFT: Readonly<Record<number, Difference>> = {
  [TURKISH]: { 0x47: 'Ğ', 0x49: 'İ', 0x53: 'Ş', 0x63: 'ç', 0x67: 'ğ', 0x69: 'ı', 0x73: 'ş' },
  [SPANISH]: {
    ...{ 0x09: 'ç', 0x41: 'Á', 0x49: 'Í', 0x4f: 'Ó', 0x55: 'Ú', 0x61: 'á', 0x69: 'í', 0x6f: 'ó', 0x75: 'ú' },
  },
  [PORTUGUESE]: {
    ...{ 0x05: 'ê', 0x09: 'ç', 0x0b: 'Ô', 0x0c: 'ô', 0x0e: 'Á', 0x0f: 'á', 0x12: 'Φ', 0x13: 'Γ', 0x15: 'Ω' },
    ...{ 0x16: 'Π', 0x17: 'Ψ', 0x18: 'Σ', 0x19: 'Θ', 0x1f: 'Ê', 0x41: 'À', 0x49: 'Í', 0x4f: 'Ó', 0x55: 'Ú' },
    ...{ 0x5b: 'Ã', 0x5c: 'Õ', 0x61: 'Â', 0x69: 'í', 0x6f: 'ó', 0x75: 'ú', 0x7b: 'ã', 0x7c: 'õ', 0x7f: 'â' },
  },
};

/** The table for everything else, by language. Spanish has none of its own. */
export const LOCKING_SHIFT: Readonly<Record<number, Difference>> = {
  [TURKISH]: {
    ...{ 0x04: '€', 0x07: 'ı', 0x0b: 'Ğ', 0x0c: 'ğ', 0x1c: 'Ş', 0x1d: 'ş', 0x40: 'İ', 0x60: 'ç' },
  },
  [PORTUGUESE]: {
    ...{ 0x04: 'ê', 0x06: 'ú', 0x07: 'í', 0x08: 'ó', 0x09: 'ç', 0x0b: 'Ô', 0x0c: 'ô', 0x0e: 'Á', 0x0f: 'á' },
    ...{ 0x12: 'ª', 0x13: 'Ç', 0x14: 'À', 0x15: '∞', 0x16: '^', 0x17: '\\', 0x18: '€', 0x19: 'Ó', 0x1a: '|' },
    ...{ 0x1c: 'Â', 0x1d: 'â', 0x1e: 'Ê', 0x24: 'º', 0x40: 'Í', 0x5b: 'Ã', 0x5c: 'Õ', 0x5d: 'Ú', 0x60: '~' },
    ...{ 0x7b: 'ã', 0x7c: 'õ', 0x7d: '`' },
  },
};
