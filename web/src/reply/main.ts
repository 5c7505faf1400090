// The pages at the links in messages: nothing of the application, and small.
import '../theme/fonts'
import { createApp } from 'vue'
import OptOutPage from './OptOutPage.vue'
import ReplyPage from './ReplyPage.vue'

createApp(location.pathname.startsWith('/opt-out/') ? OptOutPage : ReplyPage).mount('#app')
