"""Programs in Java, as the small tree."""

from __future__ import annotations

from typing import TYPE_CHECKING

from . import tree
from .braces import Braces, read_braces
from .tree import Expression, Function, Program, Span, Statement

if TYPE_CHECKING:
    from tree_sitter import Node

__all__ = ["read_java"]

_WHOLE = frozenset(("int", "long", "short", "byte"))
_DECIMAL = frozenset(("double", "float"))


def read_java(text: str) -> Program:
    """Read a program; one with a fault is read as far as that."""
    return read_braces(text, "java", "java", _Java)


class _Java(Braces):
    """Turns the tree of Java's grammar into ours."""

    def _cast(self, kind: str, value: Expression, span: Span) -> Expression:
        if kind in _DECIMAL:
            return tree.Cast("float", value, span)
        if kind in _WHOLE or kind == "char":
            return tree.Cast("char" if kind == "char" else "int", value, span)
        return value

    def s_local_variable_declaration(self, node: Node, span: Span) -> list[Statement]:
        kind = self.text(node.child_by_field_name("type"))
        found = []
        for each in node.children_by_field_name("declarator"):
            value = each.child_by_field_name("value")
            given: Expression = tree.Literal(0 if kind in _WHOLE | _DECIMAL else None, span)
            if value is not None:
                given = self._cast(kind, self.of(value), self.span(value))
            found.append(self.declared(self.text(self.part(each, "name")), given, self.span(each)))
        return found

    s_field_declaration = s_local_variable_declaration

    def s_enhanced_for_statement(self, node: Node, span: Span) -> list[Statement]:
        target = tree.Name(self.text(self.part(node, "name")), span, "new")
        body = self.body(node.child_by_field_name("body"))
        return [tree.Each(target, self.of(self.part(node, "value")), body, span)]

    def s_class_declaration(self, node: Node, span: Span) -> list[Statement]:
        methods: list[Function] = []
        fields: list[tuple[str, Expression | None]] = []
        body: list[Statement] = []
        for each in self.named(node.child_by_field_name("parameters")):  # of a record
            fields.append((self.text(self.part(each, "name")), None))
            methods.append(self._accessor(self.text(self.part(each, "name")), self.span(each)))
        self._members(self.named(node.child_by_field_name("body")), methods, fields, body)
        base = node.child_by_field_name("superclass")
        inner = self.named(base)
        parent = tree.Name(self.text(inner[0]), self.span(inner[0])) if inner else None
        name = self.text(node.child_by_field_name("name"))
        return [tree.ClassDefinition(name, parent, tuple(methods), tuple(body), tuple(fields), span)]

    s_record_declaration = s_enum_declaration = s_class_declaration

    def _accessor(self, name: str, span: Span) -> Function:
        value = tree.Member(tree.Name("this", span), name, span)
        return self.function(name, (), (tree.Return(value, span),), span, has_this=True)

    def _members(
        self,
        nodes: list[Node],
        methods: list[Function],
        fields: list[tuple[str, Expression | None]],
        body: list[Statement],
    ) -> None:
        constants = 0
        for each in nodes:
            is_static = "static" in self.text(
                next((part for part in each.children if part.type == "modifiers"), None)
            )
            here = self.span(each)
            if each.type in ("method_declaration", "constructor_declaration", "compact_constructor_declaration"):
                name = "__init__" if "constructor" in each.type else self.text(self.part(each, "name"))
                methods.append(self._method(each, name, not is_static))
            elif each.type == "field_declaration" and is_static:
                body += self.s_field_declaration(each, here)
            elif each.type == "field_declaration":
                kind = self.text(each.child_by_field_name("type"))
                for declarator in each.children_by_field_name("declarator"):
                    value = declarator.child_by_field_name("value")
                    given = self._cast(kind, self.of(value), here) if value is not None else None
                    if given is None and kind in _WHOLE | _DECIMAL:
                        given = tree.Literal(0, here)
                    fields.append((self.text(self.part(declarator, "name")), given))
            elif each.type in (
                "class_declaration",
                "record_declaration",
                "enum_declaration",
                "interface_declaration",
            ):
                body += self.statement(each)
            elif each.type == "enum_constant":
                body.append(self.declared(self.text(self.part(each, "name")), tree.Literal(constants, here), here))
                constants += 1
            elif each.type == "static_initializer":
                body += self.statements([part for part in each.named_children if part.type == "block"])
            elif each.type == "enum_body_declarations":
                self._members(self.named(each), methods, fields, body)

    def s_interface_declaration(self, node: Node, span: Span) -> list[Statement]:
        return []

    s_annotation_type_declaration = s_package_declaration = s_import_declaration = s_interface_declaration

    def _method(self, node: Node, name: str, has_this: bool) -> Function:
        parameters = []
        for each in self.named(node.child_by_field_name("parameters")):
            if each.type not in ("formal_parameter", "spread_parameter"):
                continue
            inner = next((part for part in each.named_children if part.type == "variable_declarator"), each)
            target = tree.Name(self.text(self.part(inner, "name")), self.span(each), "new")
            parameters.append(tree.Parameter(target, None, "*" if each.type == "spread_parameter" else ""))
        body = self.body(node.child_by_field_name("body"))
        if has_this and name != "__init__":
            return self.function(name, tuple(parameters), body, self.span(node), has_this=True)
        return self.function(name, tuple(parameters), body, self.span(node), has_this=has_this)

    s_method_declaration_at_top = s_interface_declaration

    def s_method_declaration(self, node: Node, span: Span) -> list[Statement]:
        """A method outside a class, as in a piece of a program."""
        return [tree.Define(self._method(node, self.text(self.part(node, "name")), False), span)]

    def s_switch_expression(self, node: Node, span: Span) -> list[Statement]:
        groups = self.named(node.child_by_field_name("body"))
        cases = []
        for group in groups:
            labels = [each for each in group.named_children if each.type == "switch_label"]
            body = [each for each in group.named_children if each.type != "switch_label"]
            cases.append(([value for label in labels for value in self.named(label)], body))
        made = self.switched(self.part(node, "condition"), iter(cases), span)
        is_rule = any(each.type == "switch_rule" for each in groups)
        return [each._replace(falls_through=not is_rule) for each in made if isinstance(each, tree.Switch)]

    s_switch_statement = s_switch_expression

    # Expressions

    def e_method_invocation(self, node: Node, span: Span) -> Expression:
        owner = node.child_by_field_name("object")
        name = self.text(self.part(node, "name"))
        function: Expression = tree.Name(name, span)
        if owner is not None:
            function = tree.Member(self.of(owner), name, span)
        arguments = self.several(self.named(node.child_by_field_name("arguments")))
        return tree.Call(function, arguments, (), span)

    def e_object_creation_expression(self, node: Node, span: Span) -> Expression:
        kind = self.text(self.part(node, "type")).partition("<")[0].strip()
        arguments = self.several(self.named(node.child_by_field_name("arguments")))
        return tree.Call(tree.Name(kind, span), arguments, (), span, is_new=True)

    def e_array_creation_expression(self, node: Node, span: Span) -> Expression:
        value = node.child_by_field_name("value")
        if value is not None:
            return self.of(value)
        sizes = [
            self.of(self.named(each)[0])
            for each in node.children_by_field_name("dimensions")
            if each.type == "dimensions_expr" and self.named(each)
        ]
        return tree.Cast("sizes", tree.Items(tuple(sizes), span), span)

    def e_array_access(self, node: Node, span: Span) -> Expression:
        return tree.Item(self.of(self.part(node, "array")), self.of(self.part(node, "index")), span)

    def e_field_access(self, node: Node, span: Span) -> Expression:
        return tree.Member(self.of(self.part(node, "object")), self.text(self.part(node, "field")), span)

    def e_scoped_identifier(self, node: Node, span: Span) -> Expression:
        return tree.Member(self.of(self.part(node, "scope")), self.text(self.part(node, "name")), span)

    def e_cast_expression(self, node: Node, span: Span) -> Expression:
        return self._cast(self.text(self.part(node, "type")), self.of(self.part(node, "value")), span)

    def e_lambda_expression(self, node: Node, span: Span) -> Expression:
        given = self.part(node, "parameters")
        nodes = [given] if given.type == "identifier" else self.named(given)
        parameters = tuple(
            tree.Parameter(tree.Name(self.text(each.child_by_field_name("name") or each), self.span(each), "new"))
            for each in nodes
        )
        block = self.part(node, "body")
        is_block = block.type == "block"
        body = self.body(block) if is_block else (tree.Return(self.of(block), self.span(block)),)
        return self.function("", parameters, body, span)

    def e_method_reference(self, node: Node, span: Span) -> Expression:
        inner = self.named(node)
        if len(inner) < 2:
            return tree.Unsupported("this `::`", span)
        owner = self.of(inner[0])
        name = self.text(inner[-1])
        item = tree.Name("item", span, "new")
        call = tree.Call(tree.Member(owner, name, span), (item,), (), span)
        return self.function("", (tree.Parameter(item),), (tree.Return(call, span),), span)

    def e_null_literal(self, node: Node, span: Span) -> Expression:
        return tree.Literal(None, span)

    def e_type_identifier(self, node: Node, span: Span) -> Expression:
        return tree.Name(self.text(node), span)

    def e_super(self, node: Node, span: Span) -> Expression:
        return tree.Name("super", span)
