/**
 * Property tests run with one printed seed, so that a run that fails
 * can be run again: UNIROTA_SEED, or the one that always holds.
 */
import fc from 'fast-check';

fc.configureGlobal({ seed: Number(process.env['UNIROTA_SEED'] ?? 20_261_128) });
