import '@fontsource/fira-mono/latin-400.css'
import '@fontsource/fira-mono/latin-500.css'
import '@fontsource/fira-mono/latin-ext-400.css'
import '@fontsource/fira-mono/cyrillic-400.css'
import '@fontsource/fira-sans/latin-400.css'
import '@fontsource/fira-sans/latin-500.css'
import '@fontsource/fira-sans/latin-600.css'
import '@fontsource/fira-sans/latin-ext-400.css'
import '@fontsource/fira-sans/cyrillic-400.css'
import '@fontsource/noto-serif/latin-400.css'
import '@fontsource/noto-serif/latin-700.css'
import '@fontsource/noto-serif/latin-ext-700.css'
import '@fontsource/noto-serif/cyrillic-700.css'
import 'element-plus/es/components/message/style/css'
import './style/base.css'
import './style/forms.css'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './App.vue'
import { Problem } from './api/client'
import { i18n } from './i18n'
import { router } from './router'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 4000,
      refetchOnWindowFocus: false,
      retry: (failures, error) =>
        failures < 2 && !(error instanceof Problem && error.status >= 400 && error.status < 500),
    },
  },
})

createApp(App).use(i18n).use(router).use(VueQueryPlugin, { queryClient: queries }).mount('#app')
