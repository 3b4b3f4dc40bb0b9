import { writeProjectFile } from '../core/formats/project/file';
import { makeParcelSlip } from './parcel-slip';
import { makeQuay } from './quay';

/** The demo project files by name. */
export function demoFiles(): Record<string, string> {
	return {
		'quay.hillock.json': writeProjectFile(makeQuay()),
		'parcel-slip.hillock.json': writeProjectFile(makeParcelSlip()),
	};
}
