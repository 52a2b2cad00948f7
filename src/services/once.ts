/** Reads what stands behind an ID once; for as long as nobody can change it, or it need not be newer. */
export function once<T>(read: (id: number) => T): (id: number) => T {
  const known = new Map<number, T>();
  return (id) => {
    if (known.has(id)) return known.get(id) as T;
    const value = read(id);
    known.set(id, value);
    return value;
  };
}
