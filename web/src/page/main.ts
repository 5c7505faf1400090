// A shared page as visitors load it: nothing of the application, and small.
import '../theme/fonts'
import { createApp } from 'vue'
import PageShell from './PageShell.vue'

createApp(PageShell).mount('#app')
