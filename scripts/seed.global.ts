/** Says the seed of the property tests once a run. */
export default function say(): void {
  process.stdout.write(`Property tests: seed ${process.env['UNIROTA_SEED'] ?? 20_261_128} (UNIROTA_SEED sets another)\n`);
}
