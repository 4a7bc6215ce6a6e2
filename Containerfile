# Zorvet in a container: the data is in /data, the port 4310.
FROM docker.io/library/node:20-bookworm AS build
WORKDIR /zorvet
COPY package.json package-lock.json ./
# The compiler is here for SQLite where no ready-made one can be fetched.
RUN npm ci --no-audit --no-fund
COPY . .
RUN npm run build && npm prune --omit=dev --no-audit --no-fund

FROM docker.io/library/node:20-bookworm-slim
ENV NODE_ENV=production ZORVET_DATA=/data HOST=0.0.0.0 PORT=4310
WORKDIR /zorvet
COPY --from=build /zorvet/package.json ./
COPY --from=build /zorvet/node_modules ./node_modules
COPY --from=build /zorvet/dist ./dist
RUN mkdir /data && chown node:node /data
USER node
VOLUME /data
EXPOSE 4310
HEALTHCHECK --interval=30s --timeout=5s CMD node -e "fetch('http://127.0.0.1:4310/healthz').then((r) => process.exit(r.ok ? 0 : 1), () => process.exit(1))"
CMD ["node", "--enable-source-maps", "dist/node/main.js"]
