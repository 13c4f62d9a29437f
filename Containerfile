# Indice in a container. Build:  podman build -t indice .
# Run:    podman run -d --name indice -p 7800:7800 -v indice:/var/lib/indice -v /media/films:/media/films indice
# The code for the first run from another machine:  podman logs indice
FROM debian:bookworm-slim AS build
RUN apt-get update -q && DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends \
        ca-certificates ffmpeg fonts-noto-core postgresql postgresql-contrib python3 python3-venv \
    && rm -rf /var/lib/apt/lists/*
COPY . /opt/indice
# Makes the Python environment and builds the front end; what only the build needs stays behind.
RUN /opt/indice/indice --help >/dev/null && python3 -I /opt/indice/src/indice/bootstrap.py app \
    && rm -rf /opt/indice/frontend/node_modules /opt/indice/.node

FROM debian:bookworm-slim
RUN apt-get update -q && DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends \
        ffmpeg fonts-noto-core postgresql postgresql-contrib python3 \
    && rm -rf /var/lib/apt/lists/* \
    && useradd --system --user-group --home-dir /var/lib/indice --create-home --shell /usr/sbin/nologin indice
COPY --from=build /opt/indice /opt/indice
USER indice
ENV INDICE_HOME=/var/lib/indice INDICE_HOST=0.0.0.0 PYTHONPATH=/opt/indice/src PYTHONDONTWRITEBYTECODE=1
VOLUME /var/lib/indice
EXPOSE 7800
STOPSIGNAL SIGTERM
HEALTHCHECK --interval=30s --timeout=5s --start-period=60s \
    CMD ["/opt/indice/.venv/bin/python", "-c", "import urllib.request as r; r.urlopen('http://127.0.0.1:7800/api/status', timeout=4)"]
ENTRYPOINT ["/opt/indice/.venv/bin/python", "-m", "indice.cli"]
CMD ["start"]
