/** Values for tests of laws. */
import fc from 'fast-check';

/**
 * Numbers spread evenly between two bounds, the bounds (and 0, where it lies between them) now and then. `fc.double`
 * spreads over exponents instead: of a range about 0 nearly all that it gives is next to nothing, and laws of several
 * numbers are hardly tried.
 */
export function between(min: number, max: number): fc.Arbitrary<number> {
	const steps = 2 ** 20;
	const edges = min < 0 && max > 0 ? [0, min, max] : [min, max];
	return fc.oneof(
		{ weight: 1, arbitrary: fc.constantFrom(...edges) },
		{
			weight: 9,
			arbitrary: fc.nat(steps).map((i) => min + ((max - min) * i) / steps),
		},
	);
}
