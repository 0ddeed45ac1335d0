// Where `npm run dev` sends what the interface asks the server.
export default { '/api': { target: `http://127.0.0.1:${process.env.GLUE_TRACE_PORT ?? '4860'}`, secure: false } };
