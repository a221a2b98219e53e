/**
 * Where a short sound lies in a long one: generalised cross-correlation with phase transform (see delay-estimate.ts), of which
 * the highest peak is taken. It finds a place whatever there is; whether it is right is told by others that agree with it.
 */
import FFT from 'fft.js';

/**
 * @param piece some tenths of a second of a voice, at any rate
 * @param sound at the same rate, as long at least
 * @returns the sample of `sound` at which `piece` begins most likely; null when one of them is silent
 */
export function findWithin(piece: Float32Array, sound: Float32Array): number | null {
	const lags = sound.length - piece.length;
	if (lags < 0 || isSilent(piece) || isSilent(sound)) return null;
	// What goes round at its end is only where the piece does not lie in it whole.
	const fft = new FFT(2 ** Math.ceil(Math.log2(sound.length)));
	const [one, other] = [spectrumOf(fft, sound), spectrumOf(fft, piece)];
	const product = fft.createComplexArray();
	for (let i = 0; i < product.length; i += 2) {
		const [a, b, c, d] = [one[i]!, one[i + 1]!, other[i]!, other[i + 1]!];
		const [re, im] = [a * c + b * d, b * c - a * d];
		const height = Math.hypot(re, im) || 1;
		product[i] = re / height;
		product[i + 1] = im / height;
	}
	const correlation = fft.createComplexArray();
	fft.inverseTransform(correlation, product);
	let best = 0;
	for (let lag = 1; lag <= lags; lag++) if (correlation[2 * lag]! > correlation[2 * best]!) best = lag;
	return best;
}

function spectrumOf(fft: FFT, samples: Float32Array): number[] {
	const padded = new Array<number>(fft.size).fill(0);
	samples.forEach((sample, i) => (padded[i] = sample));
	const spectrum = fft.createComplexArray();
	fft.realTransform(spectrum, padded);
	fft.completeSpectrum(spectrum);
	return spectrum;
}

function isSilent(samples: Float32Array): boolean {
	return samples.every((sample) => sample === 0);
}
