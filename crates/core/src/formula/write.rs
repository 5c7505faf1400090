//! Writing a formula back as text: with the names of now, or with ids for keeping.

use super::{Expr, Node, Path, names::SIGNS};
use crate::{dataset::Dataset, id::FieldId};
use std::fmt::Write;

/// How tightly signs and `%` bind: tighter than any operator.
const SIGN: u8 = 8;

/// The text of a formula; without a dataset, with ids for names.
pub(super) fn text(node: &Node, ds: Option<&Dataset>) -> String {
    Writer::new(ds).write(node)
}

/// The text that stands in place of a part, if one does.
pub(super) type PutIn<'d> = &'d dyn Fn(&Node) -> Option<String>;

pub(super) struct Writer<'d> {
    ds: Option<&'d Dataset>,
    text: String,
    /// What stands in place of a part, where that is not its own text.
    pub(super) put_in: Option<PutIn<'d>>,
}

impl<'d> Writer<'d> {
    pub(super) fn new(ds: Option<&'d Dataset>) -> Self {
        Self { ds, text: String::new(), put_in: None }
    }

    pub(super) fn write(mut self, node: &Node) -> String {
        self.node(node, 0, false);
        self.text
    }

    /// `than` is how tightly what stands around it binds; on its right, the same is too loose already.
    fn node(&mut self, node: &Node, than: u8, right: bool) {
        if let Some(text) = self.put_in.and_then(|put_in| put_in(node)) {
            self.text.push_str(&text);
            return;
        }
        let binds = match &node.expr {
            Expr::Binary(operator, _, _) => operator.binds(),
            Expr::Chain(_, rest) => rest.first().map_or(u8::MAX, |(operator, _)| operator.binds()),
            Expr::Negate(_) | Expr::Percent(_) => SIGN,
            // A condition reaches as far as it can, so only brackets or commas may stand around it.
            Expr::Path(Path { narrowed: Some(_), .. }) if than > 0 || right => 0,
            _ => u8::MAX,
        };
        let brackets = binds < than || (binds == than && right && binds < SIGN);
        if brackets {
            self.text.push('(');
        }
        self.bare(node);
        if brackets {
            self.text.push(')');
        }
    }

    fn bare(&mut self, node: &Node) {
        let comma = self.ds.is_some_and(|ds| ds.tracker.locale.decimal_comma);
        match &node.expr {
            Expr::Number(number) if comma => self.text.push_str(&number.to_string().replace('.', ",")),
            Expr::Number(number) => self.text.push_str(&number.to_string()),
            Expr::Text(text) => self.quoted(text),
            Expr::Logical(yes) => self.text.push_str(if *yes { "TRUE" } else { "FALSE" }),
            Expr::Option(option) => match self.ds {
                None => self.put(format_args!("{{@{option}}}")),
                Some(ds) => {
                    let name = ds.option_name(*option).unwrap_or("an option that is gone").to_owned();
                    self.quoted(&name);
                }
            },
            Expr::Person(person) => match self.ds {
                None => self.put(format_args!("{{*{person}}}")),
                Some(ds) => self.quoted(ds.people.name(*person)),
            },
            Expr::Path(path) => self.path(path),
            Expr::Call(function, arguments) => {
                self.text.push_str(function.name);
                self.text.push('(');
                for (place, argument) in arguments.iter().enumerate() {
                    if place > 0 {
                        self.text.push_str(if comma { "; " } else { ", " });
                    }
                    self.node(argument, 0, false);
                }
                self.text.push(')');
            }
            Expr::Binary(operator, left, right) => {
                self.node(left, operator.binds(), false);
                self.put(format_args!(" {} ", operator.sign()));
                self.node(right, operator.binds(), true);
            }
            Expr::Chain(first, rest) => {
                let binds = rest.first().map_or(0, |(operator, _)| operator.binds());
                self.node(first, binds, false);
                for (operator, part) in rest {
                    self.put(format_args!(" {} ", operator.sign()));
                    self.node(part, binds, true);
                }
            }
            Expr::Negate(part) => {
                self.text.push('-');
                // A sign before `%` would be read as belonging to the number alone.
                self.node(part, SIGN + u8::from(matches!(part.expr, Expr::Percent(_))), false);
            }
            Expr::Percent(part) => {
                self.node(part, SIGN, false);
                self.text.push('%');
            }
            Expr::Nothing => self.text.push_str("\"\""),
        }
    }

    fn put(&mut self, text: std::fmt::Arguments<'_>) {
        self.text.write_fmt(text).expect("a string takes everything");
    }

    fn quoted(&mut self, text: &str) {
        self.put(format_args!("\"{}\"", text.replace('"', "\"\"")));
    }

    fn path(&mut self, path: &Path) {
        match self.ds {
            None => {
                let fields: Vec<String> = path.fields.iter().map(FieldId::to_string).collect();
                self.put(format_args!("{{{}{}}}", "^".repeat(path.out), fields.join(".")));
            }
            Some(ds) => {
                let names: Vec<String> = path.fields.iter().map(|field| name(ds, *field)).collect();
                self.text.push_str(&names.join("."));
            }
        }
        if let Some(condition) = &path.narrowed {
            self.text.push_str(" where ");
            self.node(condition, 0, false);
        }
    }
}

/// A field's name, in single quotes where it would not be read as one name.
pub(super) fn name(ds: &Dataset, field: FieldId) -> String {
    let Some((_, def)) = ds.field(field) else { return "'a field that is gone'".into() };
    let name = &def.name;
    let lower = name.to_lowercase();
    let plain = !name.contains(|c: char| SIGNS.contains(c))
        && !name.starts_with(|c: char| c.is_ascii_digit())
        && name.trim() == name
        && !["true", "false"].contains(&&*lower);
    if plain { name.clone() } else { format!("'{}'", name.replace('\'', "''")) }
}
