<script lang="ts">
	import CertificatePage from '$lib/access/CertificatePage.svelte';
	import type { PageProps } from './$types';

	let { data }: PageProps = $props();
</script>

<CertificatePage address={data.address} fingerprint={data.fingerprint} />
