/** A nominal type: a plain value that one constructor has checked. */
export type Brand<T, Name extends string> = T & { readonly __brand: Name };
