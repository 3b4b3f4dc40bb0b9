/** An example of each command, as its help shows it. */
export const COMMAND_EXAMPLES: Readonly<Record<string, readonly string[]>> = {
	serve: ['hillock serve --port 4720', 'hillock serve --host 0.0.0.0 --token SECRET'],
	demo: ['hillock demo'],
	export: [
		'hillock export quay.hillock.json --clip all --bound 0.001 --out quay.glb',
		'hillock export quay.hillock.json --clip all --to clips --out quay.clips.json',
		'hillock export scenes/*.hillock.json --profile all --shard 1/2 --out out',
	],
	import: ['hillock import walk.bvh --out walk.hillock.json', 'hillock import crane.glb'],
	clean: [
		'hillock clean quay.hillock.zip --take all --tolerance 0.01 --out quay.hillock.zip',
		'hillock clean walk.bvh --take walk --smooth steady --out walk.hillock.zip',
	],
	sample: ['hillock sample quay.hillock.json --clip all --rate 240'],
	check: ['hillock check quay.hillock.json --strict', 'hillock check quay.hillock.json --sarif'],
	rehearse: ['hillock rehearse quay.hillock.json --frames random'],
	backup: ['hillock backup --out all.sqlite'],
	restore: ['hillock restore all.sqlite'],
	completion: ['hillock completion bash'],
};
