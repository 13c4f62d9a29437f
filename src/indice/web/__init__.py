"""The web server: one module a resource, OpenAPI, live events, media delivery, sign-in."""
