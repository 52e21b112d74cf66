import { mount } from 'svelte'
import './app.css'
import App from './pages/App.svelte'

mount(App, { target: document.getElementById('app')! })
