/** @type {import('next').NextConfig} */
const config = {
  poweredByHeader: false,
  compress: false,
  devIndicators: false,
  reactCompiler: true,
  serverExternalPackages: ['better-sqlite3', 'mediabunny'],
  typescript: { ignoreBuildErrors: true },
};

export default config;
