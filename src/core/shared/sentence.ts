/** A message as it stands where no field is beside it: the name of the field before it, which the API needs, is left out. */
export const sentenceOf = (message: string): string =>
  message.replace(/^[a-z_.0-9]+: /, '').replace(/^\p{L}/u, (letter) => letter.toUpperCase());
