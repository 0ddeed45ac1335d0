import { bootstrapApplication } from '@angular/platform-browser';
import { appConfig } from './app/app.config';
import { Frame } from './app/frame/frame';
import { applyTheme } from './app/frame/theme';

applyTheme();
bootstrapApplication(Frame, appConfig).catch((error: unknown) => console.error(error));
