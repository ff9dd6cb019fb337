import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideHttpClient, withFetch } from '@angular/common/http';
import { ErrorHandler, isDevMode, provideBrowserGlobalErrorListeners, provideZonelessChangeDetection } from '@angular/core';
import { provideServiceWorker } from '@angular/service-worker';
import { App } from './app/app';
import { routes } from './app/routes';
import { PageErrorHandler } from './app/shell/error-handler';

void bootstrapApplication(App, {
  providers: [
    provideZonelessChangeDetection(),
    // Rejections that nobody hears, and errors outside of Angular, come to the same handler.
    provideBrowserGlobalErrorListeners(),
    provideRouter(routes, withComponentInputBinding()),
    provideHttpClient(withFetch()),
    // The page opens without the server; a newer one is fetched meanwhile and taken at the next opening.
    provideServiceWorker('ngsw-worker.js', { enabled: !isDevMode(), registrationStrategy: 'registerWhenStable:10000' }),
    { provide: ErrorHandler, useClass: PageErrorHandler },
  ],
});
