import fc from "fast-check";
import { describe, expect, expectTypeOf, it } from "vitest";
import { at, type PathIn, put } from "./bound";

const spec = {
	name: "stripe",
	bands: [{ gap_mm: 0 }, { gap_mm: 12 }],
	seam: null as null | { overlap_mm: number },
};

describe("what stands at a path", () => {
	it("is found in lists and in what may be missing", () => {
		expect(at(spec, "/bands/1/gap_mm")).toBe(12);
		expect(at(spec, "/seam/overlap_mm")).toBeUndefined();
		expect(at(spec, "/bands/7/gap_mm")).toBeUndefined();
	});
	it("is put there in a copy; the rest stays the very same", () => {
		const next = put(spec, "/bands/1/gap_mm", "1/2");
		expect(next.bands).toEqual([{ gap_mm: 0 }, { gap_mm: "1/2" }]);
		expect(next.bands[0]).toBe(spec.bands[0]);
		expect(Array.isArray(next.bands)).toBe(true);
		expect(spec.bands[1]?.gap_mm).toBe(12);
	});
	it("makes what is missing on the way", () => {
		expect(put(spec, "/seam/overlap_mm", "1/2").seam).toEqual({ overlap_mm: "1/2" });
	});
	it("comes back as it was put, whatever it is", () => {
		fc.assert(
			fc.property(
				fc.array(fc.stringMatching(/^[a-z_]{1,6}$/), { minLength: 1, maxLength: 5 }),
				fc.jsonValue(),
				(keys, value) => {
					const path = `/${keys.join("/")}`;
					expect(at(put({}, path, value), path)).toEqual(value);
				},
			),
		);
	});
	it("is a path of the type, or does not compile", () => {
		type Spec = typeof spec;
		expectTypeOf<"/bands/1/gap_mm">().toExtend<PathIn<Spec>>();
		expectTypeOf<"/seam/overlap_mm">().toExtend<PathIn<Spec>>();
		expectTypeOf<"/bands/1/gap">().not.toExtend<PathIn<Spec>>();
	});
});
