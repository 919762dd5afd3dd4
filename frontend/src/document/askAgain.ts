import { useQueryClient, type QueryClient, type QueryKey } from "@tanstack/react-query";
import { useDocument } from "./document";
import type { ProjectPath } from "./useGet";

/** Ask again for what was changed. An answer that was on its way already may tell of what was before: it is given up,
 * where the library by itself would be content with it as long as it is the first. */
export async function askAgain(cache: QueryClient, ...keys: QueryKey[]): Promise<void> {
  const one = async (queryKey: QueryKey) => {
    await cache.cancelQueries({ queryKey });
    await cache.invalidateQueries({ queryKey });
  };
  await Promise.all(keys.map(one));
}

/** The same for paths about the project that is open now. */
export function useAskAgain(): (...paths: ProjectPath[]) => Promise<void> {
  const cache = useQueryClient();
  const id = useDocument((store) => store.state?.id);
  return (...paths) => askAgain(cache, ...paths.map((path) => [path, id]));
}
