<script lang="ts">
	import type { PageProps } from './$types';
	import { guideWords as words } from '$lib/words/index.ts';

	let { data }: PageProps = $props();
</script>

<svelte:head><title>{words.pageTitle(data.title)}</title></svelte:head>

<div class="mx-auto grid max-w-5xl gap-6 p-4 sm:p-8 md:grid-cols-[12rem_minmax(0,1fr)]">
	<nav class="grid content-start gap-1" aria-label={words.pages}>
		<a class="inline-block min-h-6 underline" href="/">{words.home}</a>
		{#each data.pages as { page, title } (page)}
			<a
				class="inline-block min-h-6 {page === data.page ? 'font-bold' : 'underline'}"
				href="/guide/{page}"
				aria-current={page === data.page ? 'page' : undefined}>{title}</a
			>
		{/each}
	</nav>
	<!-- eslint-disable-next-line svelte/no-at-html-tags -- written in docs/guide, by nobody else -->
	<main class="guide">{@html data.html}</main>
</div>
