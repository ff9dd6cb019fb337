#!/usr/bin/env node
import { register } from 'tsx/esm/api';

register();
const { main } = await import('./main.ts');
await main(process.argv);
