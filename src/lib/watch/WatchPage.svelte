<script lang="ts">
	/** The page on which viewers watch: made by the server, brought to life by a small script of its own. */
	import { Button, Input, Label } from 'flowbite-svelte';
	import type { WatchTold } from '../../core/watch-page/watched.ts';
	import { watch as words } from '../words/en/watch.ts';

	interface Props {
		slug: string;
		/** True within a page of another site: the picture alone. */
		isEmbedded: boolean;
		asked: 'first' | 'wrong' | 'often';
		/** Null where a password has to be typed first. */
		told: WatchTold | null;
	}
	let { slug, isEmbedded, asked, told }: Props = $props();
</script>

<svelte:head>
	<title>{told?.title ?? words.passwordAsked}</title>
	<meta name="description" content={told?.description ?? ''} />
</svelte:head>

{#if told === null}
	<main class="mx-auto grid max-w-md gap-4 p-6">
		<h1 class="text-2xl font-bold">{words.passwordAsked}</h1>
		<form method="post" action="/watch/{slug}/enter" class="grid gap-3">
			<Label>
				{words.passwordIs}
				<Input type="password" name="password" required maxlength={200} class="mt-1" autocomplete="current-password" />
			</Label>
			{#if asked !== 'first'}<p role="alert" class="font-semibold">
					{asked === 'wrong' ? words.wrong : words.often}
				</p>{/if}
			<Button type="submit" color="primary" class="justify-self-start">{words.enter}</Button>
		</form>
	</main>
{:else}
	<main
		class={isEmbedded ? 'grid min-h-screen bg-ink text-paper' : 'mx-auto grid max-w-5xl gap-4 p-4 sm:p-6'}
		data-watch={slug}
		data-told={JSON.stringify(told)}
	>
		{#if !isEmbedded}
			<header class="grid gap-1">
				<h1 class="text-2xl font-bold" data-title>{told.title}</h1>
				<p class="text-gray-700 empty:hidden" data-description>{told.description}</p>
			</header>
		{/if}
		<section class="relative grid aspect-video w-full place-items-center overflow-hidden bg-ink text-paper" data-stage>
			<video class="absolute inset-0 size-full" controls playsinline muted hidden data-video></video>
			<div class="relative grid gap-2 p-4 text-center" data-card>
				{#if told.picture}
					<img src={told.picture} alt="" class="mx-auto max-h-56 rounded-sm" data-picture />
				{/if}
				{#if isEmbedded}<p class="text-xl font-bold" data-title>{told.title}</p>{/if}
				<p class="text-lg" data-when></p>
				<p class="figures text-3xl font-bold" data-left></p>
				<noscript>{words.noScript}</noscript>
			</div>
			<p
				class="absolute inset-x-4 bottom-12 hidden rounded-sm bg-ink/85 p-2 text-center text-lg whitespace-pre-line"
				data-captions
			></p>
			<Button size="lg" color="primary" class="absolute top-4 left-4 hidden" data-sound-button>{words.soundOn}</Button>
		</section>
		<div class="flex flex-wrap items-center gap-3 {isEmbedded ? 'hidden' : ''}">
			<p role="status" data-status></p>
			<Button size="sm" color="alternative" class="ml-auto hidden" aria-pressed="false" data-captions-button
				>{words.showCaptions}</Button
			>
		</div>
		{#if told.messages && !isEmbedded}
			<section class="hidden gap-2" aria-labelledby="written" data-messages>
				<h2 id="written" class="font-semibold">{words.written}</h2>
				<ul class="grid max-h-60 gap-1 overflow-y-auto" data-list></ul>
				<form class="grid gap-2 sm:grid-cols-[1fr_3fr_auto]" data-write>
					<Input name="from" required maxlength={40} placeholder={words.yourName} aria-label={words.yourName} />
					<Input name="text" required maxlength={300} placeholder={words.message} aria-label={words.message} />
					<Button type="submit" color="primary">{words.write}</Button>
				</form>
				<p role="alert" class="empty:hidden" data-problem></p>
			</section>
		{/if}
	</main>
{/if}
