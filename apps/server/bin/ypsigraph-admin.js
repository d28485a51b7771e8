#!/usr/bin/env node
import { runAdmin } from '../dist/admin/admin.js';

process.exitCode = await runAdmin(process.argv.slice(2), process.env);
