/** The values of a header's cookies of one name, in order: a browser may send several. */
export const cookiesNamed = (header: string | undefined, name: string): string[] =>
  (header ?? '')
    .split(/; */)
    .filter((part) => part.startsWith(`${name}=`))
    .map((part) => part.slice(name.length + 1));
