import {
  type InvalidateOptions,
  type InvalidateQueryFilters,
  QueryClient,
  type QueryKey,
  type SetDataOptions,
} from "@tanstack/react-query";

/**
 * What the browser keeps of the server, where an older answer never comes over newer knowledge: a question that is on its way
 * when something changed is asked anew, one whose answer is put in is given up. (The library itself waits for a first answer
 * that is on its way, though it was asked before the change.)
 */
export class Cache extends QueryClient {
  override async invalidateQueries<K extends QueryKey = QueryKey>(
    filters?: InvalidateQueryFilters<K>,
    options?: InvalidateOptions,
  ): Promise<void> {
    const { refetchType: _, ...which } = filters ?? {};
    await this.cancelQueries(which);
    return super.invalidateQueries(filters, options);
  }

  override setQueryData = ((key: QueryKey, updater: unknown, options?: SetDataOptions) => {
    void this.cancelQueries({ queryKey: key, exact: true });
    return QueryClient.prototype.setQueryData.call(this, key, updater, options);
  }) as QueryClient["setQueryData"];
}
