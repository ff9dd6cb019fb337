import { bootstrapApplication } from '@angular/platform-browser';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideHttpClient, withFetch } from '@angular/common/http';
import { ErrorHandler, provideZonelessChangeDetection } from '@angular/core';
import { App } from './app/app';
import { routes } from './app/routes';
import { LoudErrors } from './app/services/loud-errors';

void bootstrapApplication(App, {
  providers: [
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    provideHttpClient(withFetch()),
    { provide: ErrorHandler, useClass: LoudErrors },
  ],
});
