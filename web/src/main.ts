import { bootstrapApplication } from '@angular/platform-browser';
import { appConfig } from './app/app.config';
import { Frame } from './app/frame/frame';
import { applySettings } from './app/shared/settings';

applySettings();
bootstrapApplication(Frame, appConfig).catch((error: unknown) => console.error(error));
