import { ensureBuilt, ensureInstalled } from './ready.mjs';

ensureInstalled();
ensureBuilt();
