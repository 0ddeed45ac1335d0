// How long a spec may take before it counts as failed: a busy machine is no fault of the code.
/* global jasmine */
jasmine.DEFAULT_TIMEOUT_INTERVAL = Number(process.env.GLUE_SPEC_LIMIT ?? 60_000);
