"""Programs in JavaScript, as the small tree."""

from __future__ import annotations

from typing import TYPE_CHECKING

from . import tree
from .braces import Braces, read_braces, unescaped
from .tree import Expression, Function, Program, Span, Statement

if TYPE_CHECKING:
    from tree_sitter import Node

__all__ = ["read_javascript"]


def read_javascript(text: str) -> Program:
    """Read a program; one with a fault is read as far as that."""
    return read_braces(text, "javascript", "javascript", _JavaScript)


class _JavaScript(Braces):
    """Turns the tree of JavaScript's grammar into ours."""

    def s_lexical_declaration(self, node: Node, span: Span) -> list[Statement]:
        found: list[Statement] = []
        for each in self.named(node):
            if each.type != "variable_declarator":
                continue
            value = each.child_by_field_name("value")
            target = self._new(self.of(self.part(each, "name")))
            given = self.of(value) if value is not None else tree.Literal(None, span)
            if isinstance(given, Function) and not given.name and isinstance(target, tree.Name):
                given = given._replace(name=target.name)
            found.append(tree.Evaluate(tree.Assignment(target, "", given, span), self.span(each)))
        return found

    def s_variable_declaration(self, node: Node, span: Span) -> list[Statement]:
        """``var``: the function's own, whatever block it stands in."""
        return [
            each._replace(value=each.value._replace(target=_scoped(each.value.target, "own")))
            if isinstance(each, tree.Evaluate) and isinstance(each.value, tree.Assignment)
            else each
            for each in self.s_lexical_declaration(node, span)
        ]

    def _new(self, target: Expression) -> Expression:
        return _scoped(target, "new")

    def s_for_in_statement(self, node: Node, span: Span) -> list[Statement]:
        is_of = any(each.type == "of" for each in node.children)
        target = self._new(self.of(self.part(node, "left")))
        source = self.of(self.part(node, "right"))
        body = self.body(node.child_by_field_name("body"))
        return [tree.Each(target, source, body, span, by_keys=not is_of)]

    def s_function_declaration(self, node: Node, span: Span) -> list[Statement]:
        return [tree.Define(self._function(node, span), span)]

    def s_generator_function_declaration(self, node: Node, span: Span) -> list[Statement]:
        return [tree.Unsupported("a generator", span)]

    def _function(self, node: Node, span: Span, has_this: bool = False) -> Function:
        single = node.child_by_field_name("parameter")
        given = [single] if single is not None else self.named(node.child_by_field_name("parameters"))
        parameters = tuple(self._parameter(each) for each in given)
        block = self.part(node, "body")
        is_block = block.type == "statement_block"
        body = self.body(block) if is_block else (tree.Return(self.of(block), self.span(block)),)
        is_async = any(each.type == "async" for each in node.children)
        name = self.text(node.child_by_field_name("name"))
        return self.function(name, parameters, body, span, is_async, has_this)

    def _parameter(self, node: Node) -> tree.Parameter:
        if node.type == "assignment_pattern":
            return tree.Parameter(self._new(self.of(self.part(node, "left"))), self.of(self.part(node, "right")))
        if node.type == "rest_pattern":
            return tree.Parameter(self._new(self.of(self.named(node)[0])), None, "*")
        return tree.Parameter(self._new(self.of(node)))

    def s_class_declaration(self, node: Node, span: Span) -> list[Statement]:
        methods = []
        fields: list[tuple[str, Expression | None]] = []
        body: list[Statement] = []
        heritage = next((each for each in node.named_children if each.type == "class_heritage"), None)
        base = self.of(self.named(heritage)[0]) if heritage is not None and self.named(heritage) else None
        for each in self.named(node.child_by_field_name("body")):
            is_static = any(part.type == "static" for part in each.children)
            if each.type == "method_definition":
                made = self._function(each, self.span(each), has_this=not is_static)
                methods.append(made._replace(name="__init__") if made.name == "constructor" else made)
            elif each.type == "field_definition":
                name = self.text(each.child_by_field_name("property"))
                value = each.child_by_field_name("value")
                given = self.of(value) if value is not None else None
                if is_static:
                    body.append(self.declared(name, given or tree.Literal(None, span), self.span(each)))
                else:
                    fields.append((name, given))
        name = self.text(node.child_by_field_name("name"))
        return [tree.ClassDefinition(name, base, tuple(methods), tuple(body), tuple(fields), span)]

    def s_switch_statement(self, node: Node, span: Span) -> list[Statement]:
        cases = (
            (each.children_by_field_name("value"), each.children_by_field_name("body"))
            for each in self.named(node.child_by_field_name("body"))
        )
        return self.switched(self.part(node, "value"), cases, span)

    def s_import_statement(self, node: Node, span: Span) -> list[Statement]:
        names: list[tuple[str, str]] = []
        waiting = [*node.named_children]
        while waiting:
            each = waiting.pop()
            if each.type == "import_specifier":
                name = self.text(each.child_by_field_name("name"))
                names.append((self.text(each.child_by_field_name("alias")) or name, name))
            elif each.type == "identifier":
                names.append((self.text(each), self.text(each)))
            else:
                waiting += each.named_children
        return [tree.Import(tuple(names), span)]

    def s_export_statement(self, node: Node, span: Span) -> list[Statement]:
        inner = node.child_by_field_name("declaration")
        return self.statement(inner) if inner is not None else []

    # Expressions

    def e_arrow_function(self, node: Node, span: Span) -> Expression:
        return self._function(node, span)

    e_function_expression = e_function = e_arrow_function

    def e_member_expression(self, node: Node, span: Span) -> Expression:
        return tree.Member(self.of(self.part(node, "object")), self.text(self.part(node, "property")), span)

    def e_subscript_expression(self, node: Node, span: Span) -> Expression:
        return tree.Item(self.of(self.part(node, "object")), self.of(self.part(node, "index")), span)

    def e_new_expression(self, node: Node, span: Span) -> Expression:
        arguments = self.named(node.child_by_field_name("arguments"))
        return tree.Call(self.of(self.part(node, "constructor")), self.several(arguments), (), span, is_new=True)

    def e_template_string(self, node: Node, span: Span) -> Expression:
        parts: list[Expression] = []
        for each in self.named(node):
            if each.type == "template_substitution":
                parts += self.several(self.named(each))
            else:
                parts.append(tree.Literal(unescaped(self.text(each)), self.span(each)))
        return tree.Text(tuple(parts), span)

    def e_object(self, node: Node, span: Span) -> Expression:
        pairs: list[tuple[Expression | None, Expression]] = []
        for each in self.named(node):
            here = self.span(each)
            if each.type in ("pair", "pair_pattern"):
                value = self.of(self.part(each, "value"))
                if isinstance(value, Function) and self.part(each, "value").type != "arrow_function":
                    value = value._replace(has_this=True)
                pairs.append((self._key(self.part(each, "key")), value))
            elif each.type.startswith("shorthand_property"):
                pairs.append((tree.Literal(self.text(each), here), tree.Name(self.text(each), here)))
            elif each.type == "spread_element":
                pairs.append((None, self.of(self.named(each)[0])))
            elif each.type == "method_definition":
                made = self._function(each, here, has_this=True)
                pairs.append((tree.Literal(made.name, here), made))
            elif each.type == "object_assignment_pattern":
                name = self.text(self.part(each, "left"))
                target = tree.Assignment(tree.Name(name, here), "", self.of(self.part(each, "right")), here)
                pairs.append((tree.Literal(name, here), target))
        return tree.Pairs(tuple(pairs), span)

    e_object_pattern = e_object

    def _key(self, node: Node) -> Expression:
        if node.type == "computed_property_name":
            return self.of(self.named(node)[0])
        if node.type in ("property_identifier", "private_property_identifier"):
            return tree.Literal(self.text(node), self.span(node))
        return self.of(node)

    def e_array_pattern(self, node: Node, span: Span) -> Expression:
        return tree.Items(self.several(self.named(node)), span)

    def e_assignment_pattern(self, node: Node, span: Span) -> Expression:
        return tree.Assignment(self.of(self.part(node, "left")), "", self.of(self.part(node, "right")), span)

    def e_spread_element(self, node: Node, span: Span) -> Expression:
        return tree.Spread(self.of(self.named(node)[0]), span)

    e_rest_pattern = e_spread_element

    def e_undefined(self, node: Node, span: Span) -> Expression:
        return tree.Literal(None, span)

    def e_super(self, node: Node, span: Span) -> Expression:
        return tree.Name("super", span)

    def e_unary_expression(self, node: Node, span: Span) -> Expression:
        if self.text(self.part(node, "operator")) == "typeof":
            return tree.Call(tree.Name("typeof", span), (self.of(self.part(node, "argument")),), (), span)
        return super().e_unary_expression(node, span)

    def e_regex(self, node: Node, span: Span) -> Expression:
        return tree.Unsupported("a pattern", span)


def _scoped(target: Expression, scope: str) -> Expression:
    """A target with its names in a scope."""
    if isinstance(target, tree.Name):
        return target._replace(scope=scope)
    if isinstance(target, tree.Items):
        return target._replace(items=tuple(_scoped(each, scope) for each in target.items))
    if isinstance(target, tree.Assignment):
        return target._replace(target=_scoped(target.target, scope))
    if isinstance(target, tree.Spread):
        return target._replace(value=_scoped(target.value, scope))
    if isinstance(target, tree.Pairs):
        return target._replace(pairs=tuple((key, _scoped(value, scope)) for key, value in target.pairs))
    return target
