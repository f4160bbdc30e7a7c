/** The same function, worked out once for each object and kept as long as that lives. Only for what nobody changes. */
export function oncePer<Of extends object, Found>(find: (of: Of) => Found): (of: Of) => Found {
  const found = new WeakMap<Of, { readonly value: Found }>();
  return (of) => {
    const before = found.get(of);
    if (before) return before.value;
    const value = find(of);
    found.set(of, { value });
    return value;
  };
}
