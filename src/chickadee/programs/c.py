"""Programs in C and C++, as the small tree."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from . import tree
from .braces import Braces, Places, grammar_of, number_of, read_braces
from .tree import Expression, Function, Program, Span, Statement

if TYPE_CHECKING:
    from tree_sitter import Node

__all__ = ["read_c"]

_CPP = re.compile(
    r"\b(?:using\s+namespace|std::|class\s+\w+|template\s*<|auto\s+\w+\s*[=:]|cout\s*<<|nullptr|public:|vector\s*<)"
    r"|#include\s*<\w+>|\w\s*&\s*\w+\s*[:,)]|\[[&=]?\]\s*\("
)
_WHOLE = re.compile(r"\b(?:int|long|short|unsigned|size_t|u?int\d+_t|byte|bool)\b")
_DECIMAL = re.compile(r"\b(?:double|float)\b")
_MACRO_VALUE = re.compile(r"\s*(?:/[/*].*)?$", re.DOTALL)


def read_c(text: str) -> Program:
    """Read a program in C or C++; one with a fault is read as far as that."""
    first, second = ("cpp", "c") if _CPP.search(text) else ("c", "cpp")
    found = read_braces(text, "c", first, _C)
    if found.fault is None:
        return found
    other = read_braces(text, "c", second, _C)
    return other if other.fault is None or other.fault[0] > found.fault[0] else found


class _C(Braces):
    """Turns the trees of both grammars into ours."""

    def __init__(self, offsets: Places, data: bytes) -> None:
        super().__init__(offsets, data)
        self._kinds: set[str] = set()
        """The structs that were declared so far."""

    # Declarations

    def s_declaration(self, node: Node, span: Span) -> list[Statement]:
        kind = self.text(node.child_by_field_name("type"))
        found: list[Statement] = self._structs(node)
        for each in node.children_by_field_name("declarator"):
            inner = each.child_by_field_name("declarator") if each.type == "init_declarator" else each
            if inner is None or self._is_prototype(inner):
                continue
            value = each.child_by_field_name("value") if each.type == "init_declarator" else None
            name, is_array, is_pointer = self._declared(inner)
            given = self._initial(inner, value, kind, is_array, is_pointer, span)
            found.append(self.declared(name, given, self.span(each)))
        return found

    def _initial(
        self, inner: Node, value: Node | None, kind: str, is_array: bool, is_pointer: bool, span: Span
    ) -> Expression:
        """The first value of a variable."""
        plain = kind.strip().removeprefix("struct ").partition("<")[0]
        if value is None:
            if is_array:
                return tree.Cast("sizes", tree.Items(self._sizes(inner), span), span)
            if plain.endswith(("vector", "list", "deque")):
                return tree.Items((), span)
            if plain.endswith("map"):
                return tree.Pairs((), span)
            if self._is_plain(kind) or is_pointer:
                return tree.Literal(0, span)
            return tree.Call(tree.Name(plain.rpartition("::")[2], span), (), (), span, is_new=True)
        if value.type == "argument_list":
            arguments = self.several(self.named(value))
            if plain in self._kinds:
                return tree.Call(tree.Name(plain, span), arguments, (), span, is_new=True)
            return tree.Items(arguments, span)
        given = self.of(value)
        if isinstance(given, tree.Items) and not is_pointer:
            return self._filled(given, kind, plain, inner if is_array else None, span)
        return self._cast(kind, given, span) if not is_array and not is_pointer else given

    def _filled(self, given: tree.Items, kind: str, plain: str, inner: Node | None, span: Span) -> Expression:
        """A list in braces, as the declared kind takes it."""
        if inner is None and plain.endswith("map"):
            pairs = [(each.items[0], each.items[1]) for each in given.items
                     if isinstance(each, tree.Items) and len(each.items) == 2]  # fmt: skip
            return tree.Pairs(tuple(pairs), span)
        if inner is not None or self._is_plain(kind):
            items = given.items
            if not self._is_plain(kind) and "*" not in kind and plain in self._kinds:
                items = tuple(self._record(each, plain, span) for each in items)
            sizes = self._sizes(inner) if inner is not None else ()
            if sizes and isinstance(sizes[0], tree.Literal) and isinstance(sizes[0].value, int) and len(sizes) == 1:
                rest = min(sizes[0].value, 10_000) - len(items)
                items = (*items, *[tree.Literal(0, span)] * max(0, rest))
            return tree.Items(items, span)
        if plain in self._kinds:
            return self._record(given, plain, span)
        if "<" in kind:
            name = kind.partition("<")[2].rpartition(">")[0].strip().removeprefix("struct ")
            if name in self._kinds:
                return tree.Items(tuple(self._record(each, name, span) for each in given.items), span)
        return given

    def _record(self, given: Expression, kind: str, span: Span) -> Expression:
        """A list in braces as a struct."""
        if not isinstance(given, tree.Items):
            return given
        keywords = tuple(
            (each.target.name, each.value)
            for each in given.items
            if isinstance(each, tree.Assignment) and isinstance(each.target, tree.Name)
        )
        plain = tuple(each for each in given.items if not isinstance(each, tree.Assignment))
        return tree.Call(tree.Name(kind, span), plain, keywords, span, is_new=True)

    def _is_plain(self, kind: str) -> bool:
        return bool(_WHOLE.search(kind) or _DECIMAL.search(kind) or re.search(r"\b(?:char|auto|string)\b", kind))

    def _cast(self, kind: str, value: Expression, span: Span) -> Expression:
        if _DECIMAL.search(kind) and "<" not in kind:
            return tree.Cast("float", value, span)
        if _WHOLE.search(kind) and "<" not in kind:
            return tree.Cast("int", value, span)
        return tree.Cast("char", value, span) if kind.strip() == "char" else value

    def _declared(self, node: Node) -> tuple[str, bool, bool]:
        """The name that a declarator declares, and whether it is an array or a pointer."""
        is_array = is_pointer = False
        while node.type != "identifier" and node.type != "field_identifier":
            is_array = is_array or node.type == "array_declarator"
            is_pointer = is_pointer or node.type == "pointer_declarator"
            inner = node.child_by_field_name("declarator") or next(iter(self.named(node)), None)
            if inner is None:
                break
            node = inner
        return self.text(node), is_array, is_pointer and not is_array

    def _sizes(self, node: Node) -> tuple[Expression, ...]:
        sizes: list[Expression] = []
        each: Node | None = node
        while each is not None and each.type in ("array_declarator", "pointer_declarator"):
            size = each.child_by_field_name("size")
            if size is not None:
                sizes.insert(0, self.of(size))
            each = each.child_by_field_name("declarator")
        return tuple(sizes)

    def _is_prototype(self, node: Node) -> bool:
        while node.type in ("pointer_declarator", "reference_declarator"):
            node = node.child_by_field_name("declarator") or next(iter(self.named(node)), node)
            if node.type == "identifier":
                return False
        return node.type == "function_declarator" and node.child_by_field_name("parameters") is not None

    # Structs, kinds and what is for the preprocessor

    def _structs(self, node: Node) -> list[Statement]:
        """The structs that are declared inside a declaration."""
        inner = node.child_by_field_name("type")
        if inner is None or inner.child_by_field_name("body") is None:
            return []
        name = self.text(inner.child_by_field_name("name"))
        if inner.type == "enum_specifier":
            return self.s_enum_specifier(inner, self.span(inner))
        if node.type == "type_definition":
            name = self.text(node.child_by_field_name("declarator"))
        return [self._struct(inner, name)]

    def _struct(self, node: Node, name: str) -> Statement:
        self._kinds.add(name)
        methods: list[Function] = []
        fields: list[tuple[str, Expression | None]] = []
        for each in self.named(node.child_by_field_name("body")):
            if each.type == "function_definition":
                made = self._function(each, self.span(each))
                own = "__init__" if made.name == name else made.name
                methods.append(made._replace(name=own, has_this=True))
            elif each.type == "field_declaration":
                value = each.child_by_field_name("default_value")
                for declarator in each.children_by_field_name("declarator"):
                    if self._is_prototype(declarator):
                        continue
                    field, is_array, _ = self._declared(declarator)
                    given: Expression | None = self.of(value) if value is not None else None
                    fields.append((field, given or tree.Literal(0 if not is_array else None, self.span(each))))
        return tree.ClassDefinition(name, None, tuple(methods), (), tuple(fields), self.span(node))

    def s_struct_specifier(self, node: Node, span: Span) -> list[Statement]:
        if node.child_by_field_name("body") is None:
            return []
        return [self._struct(node, self.text(node.child_by_field_name("name")))]

    s_class_specifier = s_struct_specifier

    def s_type_definition(self, node: Node, span: Span) -> list[Statement]:
        return self._structs(node)

    def s_enum_specifier(self, node: Node, span: Span) -> list[Statement]:
        found: list[Statement] = []
        before: Expression = tree.Literal(-1, span)
        for each in self.named(node.child_by_field_name("body")):
            value = each.child_by_field_name("value")
            here = self.span(each)
            before = self.of(value) if value is not None else tree.Binary("+", before, tree.Literal(1, here), here)
            found.append(self.declared(self.text(self.part(each, "name")), before, here))
        return found

    def s_preproc_def(self, node: Node, span: Span) -> list[Statement]:
        value = _MACRO_VALUE.sub("", self.text(node.child_by_field_name("value"))).strip()
        found = self._macro(value, span)
        return [] if found is None else [self.declared(self.text(self.part(node, "name")), found, span)]

    def _macro(self, value: str, span: Span) -> Expression | None:
        """The value of a constant of the preprocessor; None for anything but an expression."""
        from tree_sitter import Parser

        if not value or len(value) > 2_000:
            return None
        if re.fullmatch(r"-?[0-9.]+[fFlLuU]*", value):
            sign = -1 if value[0] == "-" else 1
            return tree.Literal(sign * number_of(value.lstrip("-")), span)
        data = f"x = {value};".encode("utf-8", "surrogatepass")
        root = Parser(grammar_of("c")).parse(data).root_node
        if root.has_error:
            return None
        inner = type(self)(_Fixed(span), data)
        inner._until = 1 << 60
        statement = inner.statements(root.named_children)
        made = statement[0].value if statement and isinstance(statement[0], tree.Evaluate) else None
        return made.value if isinstance(made, tree.Assignment) else None

    def s_preproc_function_def(self, node: Node, span: Span) -> list[Statement]:
        value = self._macro(_MACRO_VALUE.sub("", self.text(node.child_by_field_name("value"))).strip(), span)
        if value is None:
            return []
        parameters = tuple(
            tree.Parameter(tree.Name(self.text(each), span, "new"))
            for each in self.named(node.child_by_field_name("parameters"))
        )
        name = self.text(self.part(node, "name"))
        return [tree.Define(self.function(name, parameters, (tree.Return(value, span),), span), span)]

    def s_preproc_ifdef(self, node: Node, span: Span) -> list[Statement]:
        return list(self.statements([each for each in node.named_children if each.type != "identifier"]))

    def s_namespace_definition(self, node: Node, span: Span) -> list[Statement]:
        return list(self.statements(self.named(node.child_by_field_name("body"))))

    s_preproc_if = s_linkage_specification = s_namespace_definition
    s_preproc_include = s_preproc_call = s_using_declaration = s_access_specifier = Braces.nothing
    s_static_assert_declaration = s_alias_declaration = s_preproc_else = Braces.nothing

    # Functions

    def s_function_definition(self, node: Node, span: Span) -> list[Statement]:
        return [tree.Define(self._function(node, span), span)]

    def _function(self, node: Node, span: Span) -> Function:
        declarator = self.part(node, "declarator")
        while declarator.type != "function_declarator" and declarator.child_by_field_name("declarator") is not None:
            declarator = self.part(declarator, "declarator")
        name = self.text(declarator.child_by_field_name("declarator"))
        parameters = self._parameters(declarator.child_by_field_name("parameters"))
        return self.function(name, parameters, self.body(node.child_by_field_name("body")), span)

    def _parameters(self, node: Node | None) -> tuple[tree.Parameter, ...]:
        found = []
        for each in self.named(node):
            declarator = each.child_by_field_name("declarator")
            if declarator is None:
                continue
            name, _, _ = self._declared(declarator)
            default = each.child_by_field_name("default_value")
            target = tree.Name(name, self.span(each), "new")
            found.append(tree.Parameter(target, self.of(default) if default is not None else None))
        return tuple(found)

    def e_lambda_expression(self, node: Node, span: Span) -> Expression:
        declarator = node.child_by_field_name("declarator")
        parameters = self._parameters(declarator.child_by_field_name("parameters")) if declarator is not None else ()
        return self.function("", parameters, self.body(node.child_by_field_name("body")), span)

    # Statements

    def s_for_range_loop(self, node: Node, span: Span) -> list[Statement]:
        declarator = self.part(node, "declarator")
        if declarator.type == "structured_binding_declarator" or (
            self.named(declarator)[:1] and (self.named(declarator)[0].type == "structured_binding_declarator")
        ):
            inner = declarator if declarator.type == "structured_binding_declarator" else self.named(declarator)[0]
            names = tuple(tree.Name(self.text(each), span, "new") for each in self.named(inner))
            target: Expression = tree.Items(names, span)
        else:
            target = tree.Name(self._declared(declarator)[0], span, "new")
        return [
            tree.Each(target, self.of(self.part(node, "right")), self.body(node.child_by_field_name("body")), span)
        ]

    def s_switch_statement(self, node: Node, span: Span) -> list[Statement]:
        cases = []
        for each in self.named(node.child_by_field_name("body")):
            if each.type == "case_statement":
                value = each.child_by_field_name("value")
                body = [part for part in self.named(each) if value is None or part.id != value.id]
                cases.append(([value] if value is not None else [], body))
        return self.switched(self.part(node, "condition"), iter(cases), span)

    # Expressions

    def e_condition_clause(self, node: Node, span: Span) -> Expression:
        return self.of(self.part(node, "value"))

    def e_subscript_expression(self, node: Node, span: Span) -> Expression:
        index = node.child_by_field_name("index")
        if index is None:
            inner = self.named(node.child_by_field_name("indices"))
            index = inner[0] if inner else node
        return tree.Item(self.of(self.part(node, "argument")), self.of(index), span)

    def e_field_expression(self, node: Node, span: Span) -> Expression:
        return tree.Member(self.of(self.part(node, "argument")), self.text(self.part(node, "field")), span)

    def e_qualified_identifier(self, node: Node, span: Span) -> Expression:
        owner = node.child_by_field_name("scope")
        name = self.of(self.part(node, "name"))
        if owner is None or not isinstance(name, tree.Name):
            return name
        return tree.Member(tree.Name(self.text(owner), span), name.name, span)

    def e_call_expression(self, node: Node, span: Span) -> Expression:
        function = self.part(node, "function")
        arguments = self.named(node.child_by_field_name("arguments"))
        if self.text(function.child_by_field_name("name")) == "static_cast" and len(arguments) == 1:
            kind = self.text(function.child_by_field_name("arguments")).strip("<> ")
            return self._cast(kind, self.of(arguments[0]), span)
        return super().e_call_expression(node, span)

    def e_template_function(self, node: Node, span: Span) -> Expression:
        return self.of(self.part(node, "name"))

    def e_pointer_expression(self, node: Node, span: Span) -> Expression:
        argument = self.of(self.part(node, "argument"))
        if self.text(self.part(node, "operator")) == "&":
            if isinstance(argument, tree.Item):
                return tree.Binary("+", argument.owner, argument.place, span)
            return argument
        return tree.Item(argument, tree.Literal(0, span), span)

    def e_cast_expression(self, node: Node, span: Span) -> Expression:
        return self._cast(self.text(self.part(node, "type")), self.of(self.part(node, "value")), span)

    def e_sizeof_expression(self, node: Node, span: Span) -> Expression:
        """``sizeof``: lists count their items, so that a quotient of sizes is right."""
        value = node.child_by_field_name("value")
        inner = self.of(value) if value is not None else None
        if isinstance(inner, tree.Name):
            return tree.Call(tree.Name("sizeof", span), (inner,), (), span)
        return tree.Literal(1, span)

    def e_compound_literal_expression(self, node: Node, span: Span) -> Expression:
        kind = self.text(self.part(node, "type")).strip().removeprefix("struct ")
        given = self.of(self.part(node, "value"))
        return self._record(given, kind, span) if kind in self._kinds else given

    def e_initializer_pair(self, node: Node, span: Span) -> Expression:
        name = self.text(next(iter(self.named(node)), None)).strip(". ")
        return tree.Assignment(tree.Name(name, span), "", self.of(self.part(node, "value")), span)

    def e_concatenated_string(self, node: Node, span: Span) -> Expression:
        return tree.Text(self.several(self.named(node)), span)

    def e_field_identifier(self, node: Node, span: Span) -> Expression:
        return tree.Name(self.text(node), span)

    e_type_identifier = e_primitive_type = e_field_identifier


class _Fixed:
    """Places of a macro's value: all are that of its definition."""

    def __init__(self, span: Span) -> None:
        self._start = span[0]

    def of_byte(self, byte: int) -> int:
        """Return the offset of the definition."""
        return self._start
