/** The keys of an object whose type says all of them; `Object.keys` calls them text. */
export const keysOf = <T extends object>(of: T): (keyof T & string)[] => Object.keys(of) as (keyof T & string)[];

/** Keys and values of an object whose type says all of its keys; `Object.entries` calls the keys text. */
export const entriesOf = <T extends object>(of: T): [keyof T & string, Exclude<T[keyof T], undefined>][] =>
  Object.entries(of) as [keyof T & string, Exclude<T[keyof T], undefined>][];
