import { type InvalidateOptions, type InvalidateQueryFilters, QueryClient } from "@tanstack/react-query";

/**
 * What the pages show of the shop.
 *
 * What is fetched for the first time while something is written may be from before the writing,
 * and the library leaves such a fetch alone when it is told to fetch anew. Here it is asked again
 * as soon as it has come in, so that nobody is shown the state of before.
 */
export class Shown extends QueryClient {
	override async invalidateQueries(
		filters: InvalidateQueryFilters = {},
		options?: InvalidateOptions,
	): Promise<void> {
		const first = this.getQueryCache()
			.findAll({ ...filters, fetchStatus: "fetching" })
			.filter((q) => q.state.data === undefined);
		await super.invalidateQueries(filters as InvalidateQueryFilters, options);
		if (first.length === 0) return;
		await Promise.allSettled(first.map((q) => q.promise));
		await super.invalidateQueries({ predicate: (q) => first.includes(q) }, options);
	}
}
