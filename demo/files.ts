import { writeProjectFile } from '../core/formats/project/file';
import { makeParcelSlip } from './parcel-slip';
import { makeQuay } from './quay';
import { hookTable, walkingPuppet } from './recordings';

/** The demo project files, and recordings to bring in, by name. */
export function demoFiles(): Record<string, string> {
	return {
		'quay.hillock.json': writeProjectFile(makeQuay()),
		'parcel-slip.hillock.json': writeProjectFile(makeParcelSlip()),
		'recordings/hook.csv': hookTable(),
		'recordings/walk.bvh': walkingPuppet(),
	};
}
