"""Open unions of kinds: a room of parts fills each with its modules."""

from __future__ import annotations

import inspect
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from importlib import import_module
from importlib.util import find_spec
from types import ModuleType
from typing import Annotated, Any, get_args

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler, TypeAdapter
from pydantic._internal._mock_val_ser import set_model_mocks
from pydantic_core import CoreSchema, core_schema

from .model import FieldFacts, Model


class OpenUnion:
    """An annotation, `Annotated[Base, union]`: one of the registered kinds, distinguished by a literal field.

    tag: that field. name: for messages. Kinds are registered before the first document is read, when schemas are built.
    """

    def __init__(self, name: str, base: type[Model], tag: str = "kind"):
        self.name, self.base, self.tag = name, base, tag
        self.kinds: dict[str, Any] = {}
        self.nested: dict[str, OpenUnion] = {}
        self._namesakes: dict[tuple[str, str], ModuleType] = {}
        self._packages: set[str] = set()
        when_rebuilt(self._namesakes.clear)

    def load(self, package: str, *modules: str) -> None:
        """Register the parts that modules of a package define, in the given order."""
        for module in modules:
            loaded = import_module(f"{package}.{module}")
            found = [
                kind
                for _, kind in inspect.getmembers(loaded, inspect.isclass)
                if issubclass(kind, self.base) and kind.__module__ == loaded.__name__ and self.tags(kind)
            ]
            if not found:
                raise TypeError(f"{package}.{module} defines no {self.name}")
            for kind in found:
                self.add(kind)

    def add(self, kind: type[Any]) -> None:
        """Register one kind. Raises TypeError for a tag that is taken."""
        for tag in self.tags(kind):
            if self.kinds.get(tag, kind) is not kind:
                raise TypeError(f"There are two kinds of {self.name} called {tag!r}.")
            self.kinds[tag] = kind

    def tags(self, kind: type[Any]) -> tuple[str, ...]:
        """Return the tags of a kind; empty for a mere base class."""
        field = kind.model_fields.get(self.tag)
        return tuple(tag for tag in get_args(field.annotation) if isinstance(tag, str)) if field is not None else ()

    def namesake(self, tag: str, package: str) -> ModuleType:
        """Return the module of a package that has the name of a kind or, where it has none of its own, of the kind that
        it derives from. Raises TypeError where there is none."""
        key = (tag, package)
        if key not in self._namesakes:
            own = [each for base in self.kinds[tag].__mro__ if issubclass(base, self.base) for each in self.tags(base)]
            found = next((each for each in (tag, *own) if find_spec(f"{package}.{each}") is not None), None)
            if found is None:
                raise TypeError(f"The {self.name} {tag!r} needs a module of its name in {package}.")
            self._namesakes[key] = import_module(f"{package}.{found}")
            self._packages.add(package)
        return self._namesakes[key]

    def namesake_packages(self) -> list[str]:
        """Return the packages in which modules of its kinds' names were found so far, sorted."""
        return sorted(self._packages)

    def nest(self, tag: str, union: OpenUnion) -> None:
        """Make a tag stand for the kinds of another union."""
        self.kinds[tag] = Annotated[union.base, union]
        self.nested[tag] = union

    def classes(self) -> list[type[Any]]:
        """Return every kind in order, with those of nested unions."""
        found: list[type[Any]] = []
        for tag, kind in self.kinds.items():
            found += self.nested[tag].classes() if tag in self.nested else [kind]
        return list(dict.fromkeys(found))

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        choices: dict[Any, CoreSchema] = {tag: handler.generate_schema(kind) for tag, kind in self.kinds.items()}
        return core_schema.tagged_union_schema(choices, discriminator=self.tag)

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        """Return the union with the kinds of nested unions inlined, since OpenAPI has no tag that stands for a
        union."""
        described = handler(schema)
        if self.nested:
            kinds = [within for kind in described["oneOf"] for within in kind.get("oneOf", [kind])]
            described = {"oneOf": list({str(kind): kind for kind in kinds}.values())}
        return described


def union_of(facts: FieldFacts) -> OpenUnion | None:
    """Return the union of kinds that a field holds; None for other fields."""
    inner = next(iter(getattr(facts.annotation, "__args__", ())), None)
    beside = (*facts.constraints, *getattr(facts.annotation, "__metadata__", ()), *getattr(inner, "__metadata__", ()))
    return next((each for each in beside if isinstance(each, OpenUnion)), None)


_built: list[Callable[[], None]] = []


def when_rebuilt(forget: Callable[[], None]) -> None:
    """Register a function to call whenever kinds have changed, for caches built from unions."""
    _built.append(forget)


def rebuild() -> None:
    """Make every model's schema be rebuilt at first use, from the kinds registered then."""

    def below(kind: type[Any]) -> Iterator[type[Any]]:
        for each in kind.__subclasses__():
            yield each
            yield from below(each)

    for kind in dict.fromkeys(below(Model)):
        for name in ("__pydantic_core_schema__", "__pydantic_validator__", "__pydantic_serializer__"):
            if name in kind.__dict__:
                delattr(kind, name)
        kind.__pydantic_complete__ = False
        set_model_mocks(kind)  # built when it is first used, as at the beginning
    for forget in _built:
        forget()


@contextmanager
def with_more_kinds(*kinds: tuple[OpenUnion, type[Any]]) -> Iterator[None]:
    """Register further kinds within the context; everything built from their unions is rebuilt before and after. For
    tests."""
    before = [(union, dict(union.kinds)) for union, _ in kinds]
    for union, kind in kinds:
        union.add(kind)
    try:
        rebuild()
        yield
    finally:
        for union, known in before:
            union.kinds = known
        rebuild()


class Lazy:
    """A type adapter that is built at first use, and again when kinds have changed."""

    def __init__(self, kind: Any):
        self._kind = kind
        self._adapter: TypeAdapter[Any] | None = None
        when_rebuilt(self._forget)

    def _forget(self) -> None:
        self._adapter = None

    def __call__(self, value: Any) -> Any:
        """Return plain data validated as the type. Raises pydantic's ValidationError."""
        if self._adapter is None:
            self._adapter = TypeAdapter(self._kind)
        return self._adapter.validate_python(value)
