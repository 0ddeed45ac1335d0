// Where `npm run dev` sends what the interface asks the server.
// The page is not the server's own, so its Origin and token are put in here.
const target = `http://127.0.0.1:${process.env.GLUE_TRACE_PORT ?? '4860'}`;
const headers = { origin: target, 'x-glue-token': process.env.GLUE_TRACE_TOKEN ?? '' };
export default { '/api': { target, secure: false, changeOrigin: true, headers } };
