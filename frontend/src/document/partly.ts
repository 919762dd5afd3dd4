import type { StoreApi, UseBoundStore } from "zustand";
import { useShallow } from "zustand/react/shallow";

/** A hook that takes parts of a store by their names: who uses it is drawn again when one of these changes only. */
export function partly<S>(store: UseBoundStore<StoreApi<S>>) {
  return function useParts<K extends keyof S>(...names: K[]): Pick<S, K> {
    return store(useShallow((all) => Object.fromEntries(names.map((name) => [name, all[name]])) as Pick<S, K>));
  };
}
