"""Small simulated outside services that ship with the product, each its own process behind its public protocol."""
