// Runs after every install by npm, so that the commands know that node_modules matches the lockfile.
import { stampModules } from './lib/install.mjs';

stampModules();
