// The package answers to messages by itself when it is loaded in a worker.
import 'elkjs/lib/elk-worker.min.js';
