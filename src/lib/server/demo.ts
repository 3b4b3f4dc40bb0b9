/** The demo projects, shipped as project files. */
import { readProjectFile } from '$core/formats/project/file';
import { describe } from '$core/result';
import parcelSlip from '../../../demo/parcel-slip.hillock.json?raw';
import quay from '../../../demo/quay.hillock.json?raw';
import type { ProjectStore } from './project-store';

/** Stores both demo projects and gives their ids, Quay first. */
export function addDemo(store: ProjectStore): string[] {
	return [quay, parcelSlip]
		.map((text) => {
			const read = readProjectFile(text);
			if (!read.ok) throw new Error(`a demo file is not valid: ${describe(read.problems[0])}`);
			return read.value;
		})
		.map((doc) => store.add(doc));
}
