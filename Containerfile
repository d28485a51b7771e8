# One image for servers and workers: the command says which it is. docs/running.md says what it needs around it.
#
#   docker build --file Containerfile --tag ypsigraph .
FROM node:20-bookworm-slim AS build
WORKDIR /opt/ypsigraph
# A package with native parts is built here, and not carried along.
RUN apt-get update && apt-get install --yes --no-install-recommends python3 make g++ && rm -rf /var/lib/apt/lists/*
COPY package.json package-lock.json ./
COPY packages/core/package.json packages/core/
COPY packages/pictures/package.json packages/pictures/
COPY packages/contract/package.json packages/contract/
COPY packages/cli/package.json packages/cli/
COPY apps/server/package.json apps/server/
COPY apps/web/package.json apps/web/
COPY e2e/package.json e2e/
RUN npm ci --no-audit --no-fund
COPY . .
RUN npm run build && npm prune --omit=dev --no-audit --no-fund

FROM node:20-bookworm-slim
# Clips are decoded by ffmpeg; backups are made by PostgreSQL's own programs.
RUN apt-get update && apt-get install --yes --no-install-recommends ffmpeg postgresql-client && rm -rf /var/lib/apt/lists/*
WORKDIR /opt/ypsigraph
COPY --from=build /opt/ypsigraph /opt/ypsigraph
RUN useradd --system --home-dir /opt/ypsigraph ypsigraph && install -d -o ypsigraph -g ypsigraph -m 750 /var/lib/ypsigraph /var/lib/ypsigraph/files
USER ypsigraph
ENV NODE_ENV=production HOST=0.0.0.0 PORT=3000 WEB_DIR=/opt/ypsigraph/apps/web/dist FILES_DIR=/var/lib/ypsigraph/files
EXPOSE 3000 9100
VOLUME /var/lib/ypsigraph/files
HEALTHCHECK --interval=10s --timeout=5s CMD ["node", "-e", "fetch('http://127.0.0.1:3000/api/health').then(({ ok }) => process.exit(ok ? 0 : 1), () => process.exit(1))"]
ENTRYPOINT ["node", "/opt/ypsigraph/apps/server/dist/main.js"]
CMD ["--process", "server"]
