<script>
	import { readClips } from 'hillock-player';
	import Clip from './Clip.svelte';
	import json from './slip.clips.json';

	const set = readClips(json);
	let clip = $state('badge pulse');
</script>

<button onclick={() => (clip = 'stamp press')}>Press</button>
<Clip {set} {clip}>
	<div data-part="badge" style="width: 34px; height: 34px; margin: 40px; background: #b5532f"></div>
	<div data-part="stamp button" style="width: 120px; height: 120px; background: #3e6b4f"></div>
</Clip>
