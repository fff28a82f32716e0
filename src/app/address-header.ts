/** Where a request came from, written by the web process (`src/web/main.ts`) over whatever the request says. */
export const ADDRESS_HEADER = 'x-wren-address';
