import type { HttpInterceptorFn } from '@angular/common/http';

/** The server gives each page a token; whoever changes something sends it back. */
export const withToken: HttpInterceptorFn = (request, next) => {
  const token = document.querySelector<HTMLMetaElement>('meta[name="glue-token"]')?.content ?? '';
  const isOnlyLooking = request.method === 'GET' || request.method === 'HEAD';
  return next(isOnlyLooking ? request : request.clone({ setHeaders: { 'x-glue-token': token } }));
};
