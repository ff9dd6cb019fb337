import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideHttpClient, withFetch } from '@angular/common/http';
import { ErrorHandler, provideBrowserGlobalErrorListeners, provideZonelessChangeDetection } from '@angular/core';
import { App } from './app/app';
import { routes } from './app/routes';
import { LoudErrors } from './app/services/loud-errors';

void bootstrapApplication(App, {
  providers: [
    provideZonelessChangeDetection(),
    // Rejections that nobody hears, and errors outside of Angular, come to the same handler.
    provideBrowserGlobalErrorListeners(),
    provideRouter(routes, withComponentInputBinding()),
    provideHttpClient(withFetch()),
    { provide: ErrorHandler, useClass: LoudErrors },
  ],
});
