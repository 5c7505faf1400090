//! Reading: from text to a tree, names resolved on the way. It never fails: what can't be read becomes
//! [`Expr::Nothing`] and a fault.

use super::{
    Expr, FormulaFault, LENGTH_LIMIT, MAX_DEPTH, Node, OPERATORS, Operator, Path, Span, functions,
    names::{field_at, field_named, function_like, leads_to, like, unknown, word},
};
use crate::{
    dataset::Dataset,
    id::{FieldId, OptionId, PersonId, TableId},
};
use rust_decimal::Decimal;

/// Reads a formula of a table; without a dataset, one whose names are ids.
pub(super) fn parse(text: &str, home: Option<(&Dataset, TableId)>) -> (Node, Vec<FormulaFault>) {
    let scopes = vec![home.map(|(_, table)| table)];
    let mut parser = Parser { text, at: 0, depth: 0, ds: home.map(|(ds, _)| ds), scopes, faults: Vec::new() };
    if text.len() > LENGTH_LIMIT {
        let message = format!("this formula is too long: at most {LENGTH_LIMIT} characters; put a part of it into a field of its own");
        return (nothing(Span::new(0, text.len())), vec![FormulaFault::new(Span::new(0, text.len()), message)]);
    }
    let node = parser.whole();
    (node, parser.faults)
}

struct Parser<'t> {
    text: &'t str,
    /// In bytes.
    at: usize,
    depth: usize,
    /// Nothing: names are ids.
    ds: Option<&'t Dataset>,
    /// The tables whose fields may be named, innermost last; none where it could not be known.
    scopes: Vec<Option<TableId>>,
    faults: Vec<FormulaFault>,
}

fn nothing(span: Span) -> Node {
    Node { expr: Expr::Nothing, span, height: 0 }
}

impl<'t> Parser<'t> {
    fn whole(&mut self) -> Node {
        let Ok(mut node) = self.expression(0) else { return nothing(Span::new(0, self.text.len())) };
        self.space();
        if self.at < self.text.len() && self.faults.is_empty() {
            let rest = self.rest();
            let message = match rest.chars().next() {
                Some(')') => "this bracket closes nothing: take it away, or open one before it".to_owned(),
                Some(',' | ';') => "a formula gives one value: what stands behind this sign belongs to no function".to_owned(),
                _ => {
                    format!("something is missing before “{}”: an operator such as + or &, or quotes around a text", unknown_or_sign(rest))
                }
            };
            self.fault(self.at, self.at + unknown_or_sign(rest).len(), message);
        }
        node.span = Span::new(node.span.from as usize, self.text.len());
        node
    }

    fn rest(&self) -> &'t str {
        &self.text[self.at..]
    }

    fn space(&mut self) {
        self.at = self.text.len() - self.rest().trim_start().len();
    }

    fn fault(&mut self, from: usize, to: usize, message: impl Into<String>) {
        self.faults.push(FormulaFault::new(Span::new(from, to), message));
    }

    fn node(&mut self, from: usize, expr: Expr) -> Result<Node, ()> {
        let span = Span::new(from, self.at);
        let node = Node { expr, span, height: 0 };
        let height = node.parts().iter().map(|p| usize::from(p.height) + 1).max().unwrap_or(0);
        if height > MAX_DEPTH {
            self.fault(
                from,
                self.at,
                format!("this is nested too deep: at most {MAX_DEPTH} levels; put a part of it into a field of its own"),
            );
            return Err(());
        }
        Ok(Node { height: u8::try_from(height).unwrap_or(u8::MAX), ..node })
    }

    /// Operators that bind tighter than this, from the left. An error is a fault after which reading on says nothing.
    fn expression(&mut self, than: u8) -> Result<Node, ()> {
        self.depth += 1;
        let node = if self.depth > MAX_DEPTH {
            self.fault(self.at, self.text.len(), format!("this is nested too deep: at most {MAX_DEPTH} levels"));
            Err(())
        } else {
            self.operators(than)
        };
        self.depth -= 1;
        node
    }

    fn operators(&mut self, than: u8) -> Result<Node, ()> {
        let mut left = self.signed()?;
        loop {
            self.space();
            let rest = self.rest();
            let from = left.span.from as usize;
            if rest.starts_with('%') {
                self.at += 1;
                left = self.node(from, Expr::Percent(Box::new(left)))?;
                continue;
            }
            let Some((sign, operator, binds)) = OPERATORS.iter().find(|(sign, _, _)| rest.starts_with(sign)) else { return Ok(left) };
            if *binds <= than {
                return Ok(left);
            }
            self.at += sign.len();
            let right = self.expression(*binds)?;
            left = self.joined(from, left, *operator, right)?;
        }
    }

    /// Two parts as one. A sum or a joined text that goes on is the same one, and no deeper; brackets about its beginning change
    /// nothing.
    fn joined(&mut self, from: usize, left: Node, operator: Operator, right: Node) -> Result<Node, ()> {
        if !matches!(operator, Operator::Plus | Operator::Minus | Operator::Join) {
            return self.node(from, Expr::Binary(operator, Box::new(left), Box::new(right)));
        }
        let same = |rest: &[(Operator, Node)]| rest.first().is_some_and(|(first, _)| first.binds() == operator.binds());
        match left.expr {
            Expr::Chain(first, mut rest) if same(&rest) => {
                rest.push((operator, right));
                self.node(from, Expr::Chain(first, rest))
            }
            expr => self.node(from, Expr::Chain(Box::new(Node { expr, ..left }), vec![(operator, right)])),
        }
    }

    fn signed(&mut self) -> Result<Node, ()> {
        self.space();
        let from = self.at;
        let rest = self.rest();
        if let Some(sign) = ["-", "\u{2212}", "+"].iter().find(|sign| rest.starts_with(*sign)) {
            self.at += sign.len();
            self.depth += 1;
            if self.depth > MAX_DEPTH {
                self.fault(from, self.at, "there are too many signs in a row");
                return Err(());
            }
            let part = self.signed();
            self.depth -= 1;
            let part = part?;
            return if *sign == "+" { Ok(part) } else { self.node(from, Expr::Negate(Box::new(part))) };
        }
        self.value()
    }

    fn value(&mut self) -> Result<Node, ()> {
        let from = self.at;
        let rest = self.rest();
        match rest.chars().next() {
            None => {
                let message = if from == 0 { "write a formula here, such as 2 * Length" } else { "something is missing at the end" };
                self.fault(from.saturating_sub(1), from, message);
                Err(())
            }
            Some('(') => self.bracketed(),
            Some('"') => self.quoted_text(),
            Some('{') if self.ds.is_none() => self.by_id(),
            Some(c) if c.is_ascii_digit() || (c == '.' && rest[1..].starts_with(|d: char| d.is_ascii_digit())) => self.number(),
            Some(c) if c == '\'' || c.is_alphanumeric() || c == '_' || !super::names::SIGNS.contains(c) => self.named(),
            Some(c) => {
                let message = match c {
                    ')' | ',' | ';' => format!("a value is missing before “{c}”"),
                    _ => format!("“{c}” can’t stand here: a field, a number, a text in double quotes or a function is expected"),
                };
                self.fault(from, from + c.len_utf8(), message);
                Err(())
            }
        }
    }

    fn bracketed(&mut self) -> Result<Node, ()> {
        let from = self.at;
        self.at += 1;
        let inner = self.expression(0)?;
        self.space();
        if !self.rest().starts_with(')') {
            self.fault(from, from + 1, "this bracket is not closed");
            return Err(());
        }
        self.at += 1;
        Ok(Node { span: Span::new(from, self.at), ..inner })
    }

    fn quoted_text(&mut self) -> Result<Node, ()> {
        let from = self.at;
        let Some(text) = self.quoted('"') else {
            self.fault(from, self.text.len(), "this text has no end: close it with a double quote");
            return Err(());
        };
        self.node(from, Expr::Text(text.into()))
    }

    /// What stands in quotes; a doubled quote stands for itself.
    fn quoted(&mut self, quote: char) -> Option<String> {
        let mut found = String::new();
        let mut letters = self.rest().char_indices().skip(1).peekable();
        while let Some((at, letter)) = letters.next() {
            if letter != quote {
                found.push(letter);
            } else if letters.peek().is_some_and(|(_, next)| *next == quote) {
                letters.next();
                found.push(quote);
            } else {
                self.at += at + 1;
                return Some(found);
            }
        }
        None
    }

    fn comma_is_decimal(&self) -> bool {
        self.ds.is_some_and(|ds| ds.tracker.locale.decimal_comma)
    }

    fn number(&mut self) -> Result<Node, ()> {
        let from = self.at;
        let point = if self.comma_is_decimal() { ',' } else { '.' };
        let digits = |text: &str| text.len() - text.trim_start_matches(|c: char| c.is_ascii_digit()).len();
        self.at += digits(self.rest());
        if let Some(part) = self.rest().strip_prefix(point)
            && part.starts_with(|c: char| c.is_ascii_digit())
        {
            self.at += 1 + digits(part);
        }
        let plain = self.text[from..self.at].replace(',', ".");
        let exponent = self.rest().strip_prefix(['e', 'E']).map(|e| (e, e.strip_prefix(['-', '+']).unwrap_or(e)));
        let number = match exponent {
            Some((signed, bare)) if bare.starts_with(|c: char| c.is_ascii_digit()) => {
                self.at += 1 + (signed.len() - bare.len()) + digits(bare);
                Decimal::from_scientific(&format!("{plain}{}", &self.text[from + plain.len()..self.at])).ok()
            }
            _ => Decimal::from_str_exact(&plain).ok(),
        };
        let Some(number) = number else {
            self.fault(from, self.at, "this number has too many digits: at most 28 fit");
            return Err(());
        };
        self.node(from, Expr::Number(number.normalize()))
    }

    /// A function, a field, TRUE or FALSE.
    fn named(&mut self) -> Result<Node, ()> {
        let from = self.at;
        let name = word(self.rest());
        if let Some(node) = self.truth(from, name) {
            return node;
        }
        if !name.is_empty() && self.rest()[name.len()..].trim_start().starts_with('(') && !self.field_ends_there(name.len()) {
            return self.call(name);
        }
        if self.ds.is_some()
            && let Some(path) = self.path()?
        {
            return self.narrowed(from, path);
        }
        for (text, yes) in [("TRUE", true), ("FALSE", false)] {
            if name.eq_ignore_ascii_case(text) {
                self.at = from + name.len();
                return self.node(from, Expr::Logical(yes));
            }
        }
        self.unknown_name(from)
    }

    /// `TRUE()` and `FALSE()`, as spreadsheets write what is a value here.
    fn truth(&mut self, from: usize, name: &str) -> Option<Result<Node, ()>> {
        let yes = ["TRUE", "FALSE"].iter().position(|word| name.eq_ignore_ascii_case(word))? == 0;
        let inner = self.rest()[name.len()..].trim_start().strip_prefix('(')?.trim_start();
        let rest = inner.strip_prefix(')')?;
        self.at = self.text.len() - rest.len();
        Some(self.node(from, Expr::Logical(yes)))
    }

    /// Whether a field's name of several words goes on beyond this word, so that no function begins here.
    fn field_ends_there(&self, word: usize) -> bool {
        let Some(ds) = self.ds else { return false };
        let tables = self.scopes.iter().rev().flatten();
        tables.filter_map(|table| field_at(ds, *table, self.rest())).any(|(_, length)| length > word)
    }

    fn unknown_name(&mut self, from: usize) -> Result<Node, ()> {
        let name = unknown(self.rest());
        self.at = from + name.len().max(1);
        let to = self.at;
        if functions::named(name).is_some() {
            let name = name.to_uppercase();
            let message = format!("{name} is a function: write {name}( … ) with what it needs in the brackets");
            self.faults.push(FormulaFault { instead: Some(format!("{name}()")), ..FormulaFault::new(Span::new(from, to), message) });
        } else if let Some(table) = self.scopes.last().copied().flatten() {
            self.no_field(from, to, name, table);
        } else {
            self.fault(from, to, format!("there is nothing called “{name}” here"));
        }
        self.node(from, Expr::Nothing)
    }

    fn no_field(&mut self, from: usize, to: usize, name: &str, table: TableId) {
        let Some(home) = self.ds.and_then(|ds| ds.table(table)) else { return };
        let guess = like(name, home.def.fields.iter().map(|f| f.name.as_str()));
        let fault = match guess {
            Some(guess) => FormulaFault {
                instead: Some(guess.to_owned()),
                ..FormulaFault::new(Span::new(from, to), format!("no field “{name}” in {}; did you mean “{guess}”?", home.def.name))
            },
            None => {
                let message = format!("no field “{name}” in {}; a text stands in double quotes, like \"{name}\"", home.def.name);
                FormulaFault::new(Span::new(from, to), message)
            }
        };
        self.faults.push(fault);
    }

    fn call(&mut self, name: &str) -> Result<Node, ()> {
        let from = self.at;
        self.at += name.len();
        let name_end = self.at;
        self.space();
        let open = self.at;
        self.at += 1;
        let mut arguments = Vec::new();
        self.space();
        if self.rest().starts_with(')') {
            self.at += 1;
        } else {
            loop {
                arguments.push(self.expression(0)?);
                self.space();
                match self.rest().chars().next() {
                    Some(')') => {
                        self.at += 1;
                        break;
                    }
                    Some(';') => self.at += 1,
                    Some(',') if !self.comma_is_decimal() => self.at += 1,
                    Some(',') => {
                        self.fault(self.at, self.at + 1, "use ; between what a function is given: here a comma belongs to a number");
                        return Err(());
                    }
                    Some(_) => {
                        let end = self.at + unknown_or_sign(self.rest()).len();
                        let message = format!("an operator or a comma is missing before “{}”", &self.text[self.at..end]);
                        self.fault(self.at, end, message);
                        return Err(());
                    }
                    None => {
                        self.fault(open, open + 1, format!("the bracket of {} is not closed", name.to_uppercase()));
                        return Err(());
                    }
                }
            }
        }
        let Some(function) = functions::named(name) else {
            let guess = function_like(name);
            let hint = guess.map_or_else(String::new, |guess| format!("; did you mean {guess}?"));
            let message = format!("there is no function “{}”{hint}", name.to_uppercase());
            let fault = FormulaFault::new(Span::new(from, name_end), message);
            self.faults.push(FormulaFault { instead: guess.map(str::to_owned), ..fault });
            return self.node(from, Expr::Nothing);
        };
        self.node(from, Expr::Call(function, arguments))
    }

    /// A field of the innermost table that has it, then dots along links.
    fn path(&mut self) -> Result<Option<Path>, ()> {
        let Some(ds) = self.ds else { return Ok(None) };
        let start = self.at;
        let quoted = self.rest().starts_with('\'');
        let name = if quoted { self.quoted('\'') } else { None };
        if quoted && name.is_none() {
            self.fault(start, self.text.len(), "this name has no end: close it with a single quote");
            return Err(());
        }
        let found = self.scopes.iter().rev().enumerate().find_map(|(out, table)| {
            let table = (*table)?;
            match &name {
                Some(name) => field_named(ds, table, name).map(|field| (out, table, field, 0)),
                None => field_at(ds, table, self.rest()).map(|(field, length)| (out, table, field, length)),
            }
        });
        let Some((out, table, field, length)) = found else {
            if let (Some(name), Some(Some(table))) = (name, self.scopes.last().copied()) {
                self.no_field(start, self.at, &name, table);
                return Err(());
            }
            return Ok(None);
        };
        if length > 0 {
            self.must_end(ds, table, start, length)?;
        }
        self.at += length;
        let mut path = Path { out, fields: vec![field.id], narrowed: None };
        let mut at = (table, field);
        while self.rest().starts_with('.') {
            let dot = self.at;
            let Some(to) = leads_to(ds, at.0, at.1.id) else {
                self.fault(dot, dot + 1, format!("“{}” is not a link, so nothing can be followed from it", at.1.name));
                return Err(());
            };
            self.at += 1;
            self.space();
            at = (to, self.step(ds, to)?);
            path.fields.push(at.1.id);
        }
        Ok(Some(path))
    }

    /// A name that goes on in words that are no sign was meant as a longer one, if one is like it.
    fn must_end(&mut self, ds: &Dataset, table: TableId, from: usize, length: usize) -> Result<(), ()> {
        let run = unknown(self.rest());
        let next = self.rest()[length..].trim_start();
        let goes_on = run.len() > length && !word(next).eq_ignore_ascii_case("where");
        let known = || ds.table(table).into_iter().flat_map(|t| &t.def.fields).map(|f| f.name.as_str());
        if goes_on && like(run, known()).is_some_and(|guess| guess.len() > length) {
            self.no_field(from, from + run.len(), run, table);
            return Err(());
        }
        Ok(())
    }

    fn step(&mut self, ds: &'t Dataset, table: TableId) -> Result<&'t crate::schema::FieldDef, ()> {
        let from = self.at;
        if self.rest().starts_with('\'') {
            let name = self.quoted('\'').ok_or(())?;
            if let Some(field) = field_named(ds, table, &name) {
                return Ok(field);
            }
            self.no_field(from, self.at, &name, table);
            return Err(());
        }
        if let Some((field, length)) = field_at(ds, table, self.rest()) {
            self.must_end(ds, table, from, length)?;
            self.at += length;
            return Ok(field);
        }
        let name = unknown(self.rest());
        if name.is_empty() {
            let many = ds.table(table).map_or_else(String::new, |t| t.def.name.clone());
            self.fault(from.saturating_sub(1), from, format!("a field of {many} is missing after the dot"));
        } else {
            self.no_field(from, from + name.len(), name, table);
        }
        Err(())
    }

    /// A path, and the *where* behind it.
    fn narrowed(&mut self, from: usize, mut path: Path) -> Result<Node, ()> {
        let end = self.at;
        self.space();
        let here = word(self.rest());
        if !here.eq_ignore_ascii_case("where") {
            self.at = end;
            return self.node(from, Expr::Path(path));
        }
        let target = match self.ds {
            None => None,
            Some(ds) => {
                let target = super::check::narrowed_table(ds, self.scopes.iter().rev().nth(path.out).copied().flatten(), &path.fields);
                if target.is_none() {
                    let name = &self.text[from..end];
                    self.fault(
                        self.at,
                        self.at + here.len(),
                        format!("where chooses among linked records, but “{name}” is one value of this record"),
                    );
                    return Err(());
                }
                target
            }
        };
        self.at += here.len();
        self.scopes.push(target);
        let condition = self.expression(0);
        self.scopes.pop();
        path.narrowed = Some(Box::new(condition?));
        self.node(from, Expr::Path(path))
    }

    /// `{42.22.12}`, `{^42}` from one *where* further out, `{@84}` an option, `{*3}` a person.
    fn by_id(&mut self) -> Result<Node, ()> {
        let from = self.at;
        let Some(end) = self.rest().find('}') else {
            self.fault(from, self.text.len(), "a brace has no end");
            return Err(());
        };
        let inner = &self.rest()[1..end];
        self.at += end + 1;
        let number = |text: &str| text.parse::<u32>().ok();
        let expr = if let Some(option) = inner.strip_prefix('@') {
            number(option).and_then(OptionId::new).map(Expr::Option)
        } else if let Some(person) = inner.strip_prefix('*') {
            number(person).and_then(PersonId::new).map(Expr::Person)
        } else {
            let fields = inner.trim_start_matches('^');
            let out = inner.len() - fields.len();
            let fields: Option<Vec<FieldId>> = fields.split('.').map(|f| number(f).and_then(FieldId::new)).collect();
            let path = fields.filter(|_| out < self.scopes.len()).map(|fields| Path { out, fields, narrowed: None });
            match path {
                Some(path) => return self.narrowed(from, path),
                None => None,
            }
        };
        let Some(expr) = expr else {
            self.fault(from, self.at, "what stands in braces is no id");
            return Err(());
        };
        self.node(from, expr)
    }
}

/// For a fault's words: the next name, or the next sign.
fn unknown_or_sign(rest: &str) -> &str {
    let name = unknown(rest);
    if name.is_empty() { &rest[..rest.chars().next().map_or(0, char::len_utf8)] } else { name }
}
