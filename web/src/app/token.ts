import type { HttpInterceptorFn } from '@angular/common/http';

const holder = (page: Document): HTMLMetaElement | null => page.querySelector('meta[name="glue-token"]');

/** This window, as the server calls it when it tells other windows of what was changed here. */
export const WINDOW = Math.random().toString(36).slice(2);

/** The server gives each page a token; whoever changes something sends it back. */
export const withToken: HttpInterceptorFn = (request, next) => {
  const token = holder(document)?.content ?? '';
  const isOnlyLooking = request.method === 'GET' || request.method === 'HEAD';
  return next(
    isOnlyLooking ? request : request.clone({ setHeaders: { 'x-glue-token': token, 'x-glue-window': WINDOW } }),
  );
};

/** Takes the token of the server that answers now. @throws when none does */
export async function renewToken(): Promise<void> {
  const page = new DOMParser().parseFromString(await (await fetch('/projects')).text(), 'text/html');
  const [now, fresh] = [holder(document), holder(page)];
  if (now && fresh) now.content = fresh.content;
}
