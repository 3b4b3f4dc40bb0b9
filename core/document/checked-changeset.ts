/** Changesets from outside: nothing of them is trusted. */
import { ok, type Result } from '../result';
import { applyEach, type Changeset } from './changeset';
import { badReferences } from './references';
import type { Doc } from './types';
import { validateEntity, validateRules, validateShape } from './validate';

/**
 * Applies a changeset from outside: its form, every entity it touches and the references between entities are
 * checked first. Either all of it is applied or nothing.
 */
export function applyChecked(doc: Doc, changeset: Changeset): Result<Doc> {
	const form = validateShape('changeset', changeset);
	if (form.length > 0) return { ok: false, problems: form };
	const applied = applyEach(doc, changeset, { form: validateEntity, rules: validateRules });
	if (applied.problems.length > 0) return { ok: false, problems: applied.problems };
	const { doc: next, touched } = applied;
	const references = badReferences(next, touched);
	if (references.length === 0) return ok(next);
	return {
		ok: false,
		problems: references.map(({ entity, member, missing, message }) => {
			const own = touched.get(entity.id);
			// Where the request left the entity alone, what it dropped is to blame.
			const dropped = missing === null ? -1 : changeset.drop.indexOf(missing);
			const pointer = own === undefined && dropped >= 0 ? `/drop/${dropped}` : `${own ?? ''}/${member}`;
			return { pointer, message: own === undefined ? `${message} "${entity.id}" needs it.` : message };
		}),
	};
}
