/** Finished recordings in storage that speaks the S3 protocol. */
import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { DeleteObjectCommand, GetObjectCommand, HeadObjectCommand, S3Client } from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import type { FinishedFiles } from './finished-files.ts';

export interface ObjectStoreConfig {
	/** Such as `https://objects.example:9000`. */
	endpoint: string;
	bucket: string;
	/** Before the names of all objects, such as `bivvo`; '' for none. */
	prefix: string;
	region: string;
	accessKey: string;
	secretKey: string;
}

/** Parts of a long file, of which ten thousand are the most there can be: 320 GB. */
const PART_BYTES = 32 * 1024 * 1024;

export class ObjectStore implements FinishedFiles {
	readonly #client: S3Client;
	readonly #config: ObjectStoreConfig;

	constructor(config: ObjectStoreConfig) {
		const { endpoint, region, accessKey: accessKeyId, secretKey: secretAccessKey } = config;
		this.#config = config;
		this.#client = new S3Client({
			...{ endpoint, region, credentials: { accessKeyId, secretAccessKey } },
			// Buckets of one's own storage have no names of their own in the network.
			forcePathStyle: true,
			// Not all storage knows of sums beside those of the protocol's first years.
			requestChecksumCalculation: 'WHEN_REQUIRED',
			responseChecksumValidation: 'WHEN_REQUIRED',
		});
	}

	#objectOf(eventId: string, file: string): { Bucket: string; Key: string } {
		const { bucket, prefix } = this.#config;
		return { Bucket: bucket, Key: [prefix, 'recordings', eventId, file].filter((part) => part !== '').join('/') };
	}

	async put(eventId: string, file: string, from: string): Promise<void> {
		const params = { ...this.#objectOf(eventId, file), Body: createReadStream(from) };
		await new Upload({ client: this.#client, params, partSize: PART_BYTES, queueSize: 2 }).done();
	}

	async sizeOf(eventId: string, file: string): Promise<number | null> {
		try {
			const { ContentLength } = await this.#client.send(new HeadObjectCommand(this.#objectOf(eventId, file)));
			return ContentLength ?? null;
		} catch (error) {
			if ((error as { $metadata?: { httpStatusCode?: number } }).$metadata?.httpStatusCode === 404) return null;
			throw error;
		}
	}

	async read(eventId: string, file: string, from: number, to: number): Promise<Readable> {
		const { Body } = await this.#client.send(
			new GetObjectCommand({ ...this.#objectOf(eventId, file), Range: `bytes=${from}-${to}` }),
		);
		// Of Node.js, as this is.
		return Body as Readable;
	}

	async remove(eventId: string, file: string): Promise<void> {
		await this.#client.send(new DeleteObjectCommand(this.#objectOf(eventId, file)));
	}
}
