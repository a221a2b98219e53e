<script lang="ts">
	/** The event's scenes as they look now; a press changes one. */
	import { plainScene } from '../../core/show/scenes/scene.ts';
	import { useDesk } from '../desk/context.ts';
	import Monitor from '../desk/pictures/Monitor.svelte';
	import { newId } from '../show/new-id.ts';
	import Button from '../ui/Button.svelte';
	import { prepare as words, scenes as sceneWords } from '../words/index.ts';

	const session = useDesk();
	const { scenes, background } = $derived(session.state.setup);

	function add() {
		const id = newId();
		const scene = plainScene(id, sceneWords.scene(scenes.length + 1), []);
		if (session.do({ type: 'addScene', scene })) session.sheet.editScene(id);
	}
</script>

<section class="grid gap-2" aria-labelledby="scenes">
	<div class="flex flex-wrap items-center justify-between gap-2">
		<h2 id="scenes" class="text-lg font-semibold">{words.scenes}</h2>
		<Button onclick={add}>{sceneWords.newScene}</Button>
	</div>
	<ul class="grid grid-cols-[repeat(auto-fill,minmax(9rem,1fr))] gap-2">
		{#each scenes as scene, at (scene.id)}
			<li>
				<Button
					look="bare"
					class="block w-full text-left"
					aria-label={sceneWords.editScene(scene.name)}
					onclick={() => session.sheet.editScene(scene.id)}
				>
					{#if session.isEngine}
						<Monitor
							subject={{ sceneId: scene.id }}
							mark="none"
							label="{at + 1} {scene.name}"
							empty={scene.layers.length === 0 && scene.background.is !== 'own' && background === null}
							compact
							class="w-full"
						/>
					{:else}
						<span class="panel block p-3">{at + 1} {scene.name}</span>
					{/if}
				</Button>
			</li>
		{:else}
			<li class="col-span-full rounded-sm border-2 border-dashed border-gray-500 p-4 text-gray-300">{words.noScene}</li>
		{/each}
	</ul>
</section>
