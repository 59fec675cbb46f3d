/** A table asked for names that stand in files: it knows none but its own, not those that every object has. */
export const byName = <T>(entries: Readonly<Record<string, T>>): Readonly<Record<string, T>> =>
  Object.assign(Object.create(null) as Record<string, T>, entries);
