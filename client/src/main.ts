import { mount } from 'svelte'
import './app.css'
import './controls/theme.svelte'
import App from './pages/App.svelte'

mount(App, { target: document.getElementById('app')! })
