/** What is written between commas, without the spaces around it; of nothing, nothing. */
export const commaList = (text: string): string[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter((one) => one !== '');
