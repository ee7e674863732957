/** A text as the beginning that LIKE looks for: its own signs of pattern mean themselves. @example beginsWith('5%') // '5\\%%' */
export const beginsWith = (typed: string): string => `${typed.replace(/[\\%_]/g, '\\$&')}%`;
