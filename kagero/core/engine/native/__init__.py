"""The native engine: programs as vector machine code, emitted as LLVM IR and compiled by llvmlite."""
