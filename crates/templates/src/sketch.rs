//! A tracker in a few lines, and building it.

use westerfall_core::{
    Clock,
    access::{Asker, Base, Reach, Role, TableRights},
    automation::{Automation, Occasion, Recipient, Step},
    condition::{Check, Comparison, Condition, Period, Quantity, Test, When},
    dataset::Dataset,
    figure::Figure,
    form::{Above, Following, Form, Question, Shown},
    highlight::{Highlight, Ink, Look, Sign, Touch},
    id::{AutomationId, FieldId, FormId, HighlightId, OptionId, RoleId, TableId, ViewId},
    intent::{FieldChange, Intent, OtherSide, TableChange},
    part::Part,
    schema::{Choice, FieldDef, Hue, Kind, Link, MineBy, NumberPart, Preset, Restart, Summary, TableDef},
    value::{Input, Value},
    view::{Almanac, AlmanacDate, Cards, GroupBy, Lanes, Order, Query, Shape, ShownField, Tally, View},
    wording::Wording,
};

/// A tracker in a few lines.
pub(crate) struct Sketch {
    pub(crate) key: &'static str,
    pub(crate) title: &'static str,
    pub(crate) description: &'static str,
    pub(crate) group: &'static str,
    pub(crate) icon: &'static str,
    pub(crate) hue: Hue,
    /// In an order in which each links only to earlier ones.
    pub(crate) tables: &'static [TableSketch],
    /// Fields that need links from later tables: the table, then the field as in [`TableSketch::fields`].
    pub(crate) later: &'static [(&'static str, &'static str)],
    pub(crate) views: &'static [ViewSketch],
    /// Views that are not rows.
    pub(crate) drawn: &'static [DrawnSketch],
    /// In their order.
    pub(crate) highlights: &'static [HighlightSketch],
    pub(crate) form: FormSketch,
    /// The table that holds the people, and the field of their address, where one does.
    pub(crate) people: Option<(&'static str, &'static str)>,
    /// Roles that nobody holds yet.
    pub(crate) roles: &'static [RoleSketch],
    /// The automation's name, whom it writes to, subject and text.
    pub(crate) mail: (&'static str, &'static str, &'static str, &'static str),
}

pub(crate) struct TableSketch {
    pub(crate) name: &'static str,
    pub(crate) one: &'static str,
    /// `Name: kind`, with `!` behind a kind that is required. See [`field`].
    pub(crate) fields: &'static [&'static str],
    /// Cells of the fields in their order, with `|` between them.
    pub(crate) rows: &'static [&'static str],
}

pub(crate) struct ViewSketch {
    pub(crate) table: &'static str,
    pub(crate) name: &'static str,
    pub(crate) only: &'static [Only],
    pub(crate) group: Option<&'static str>,
    pub(crate) sort: &'static [&'static str],
    pub(crate) sum: Option<&'static str>,
}

/// A view in another shape than rows, with the fields that it shows, the title first.
pub(crate) struct DrawnSketch {
    pub(crate) table: &'static str,
    pub(crate) name: &'static str,
    pub(crate) only: &'static [Only],
    pub(crate) fields: &'static [&'static str],
    pub(crate) shape: ShapeSketch,
    pub(crate) sum: Option<&'static str>,
}

pub(crate) enum ShapeSketch {
    /// By a field.
    Lanes(&'static str),
    /// By dates, each perhaps with one that ends it.
    Days(&'static [(&'static str, Option<&'static str>)]),
    /// In groups of a field.
    Cards(&'static str),
}

/// How records of which something holds look.
pub(crate) struct HighlightSketch {
    pub(crate) table: &'static str,
    pub(crate) only: &'static [Only],
    /// Nothing: the whole record.
    pub(crate) field: Option<&'static str>,
    pub(crate) looks: &'static [Looks],
}

pub(crate) enum Looks {
    Bold,
    Struck,
    Quiet,
    Edge(Hue),
    Sign(&'static str, Hue),
    Word(&'static str),
}

/// What a view shows only.
pub(crate) enum Only {
    Is(&'static str, &'static [&'static str]),
    Not(&'static str, &'static [&'static str]),
    Within(&'static str, Period),
    Empty(&'static str),
    No(&'static str),
    /// A link leads to the record of whoever asks.
    Mine(&'static str),
    Yes(&'static str),
    Over(&'static str, i64),
    /// The day is over.
    Past(&'static str),
}

pub(crate) struct RoleSketch {
    pub(crate) name: &'static str,
    pub(crate) about: &'static str,
    /// Of tables that are not named it gives nothing.
    pub(crate) gives: &'static [(&'static str, Gives)],
}

/// What a role may do in a table.
pub(crate) enum Gives {
    Looks,
    /// Looks, adds, and changes what is theirs.
    Adds,
    /// Looks, and changes those that these leave.
    Changes(&'static [Only]),
    /// Everything but removing.
    Works,
}

pub(crate) struct FormSketch {
    pub(crate) table: &'static str,
    pub(crate) title: &'static str,
    pub(crate) intro: &'static str,
    /// Field and question; required where the question ends with `*`.
    pub(crate) asks: &'static [(&'static str, &'static str)],
    /// Fields, and the heading above their question.
    pub(crate) heads: &'static [(&'static str, &'static str)],
    /// Fields that are asked only where something was answered before.
    pub(crate) when: &'static [(&'static str, Only)],
    /// What whoever answers may see of it afterwards; nothing: they get no private address.
    pub(crate) follow: &'static [&'static str],
    pub(crate) send: &'static str,
    /// Values go in as `{Field}`.
    pub(crate) thanks: &'static str,
}

fn id() -> FieldId {
    FieldId::new(1).expect("one is a number")
}

impl Sketch {
    /// Builds the tracker. A sketch that does not stand is a fault of this program.
    pub(crate) fn build(&self, ds: &mut Dataset, clock: &Clock) {
        let mut builder = Builder { ds, clock };
        for table in self.tables {
            builder.table(table);
        }
        for (table, line) in self.later {
            let home = builder.table_id(table);
            builder.field(home, line);
        }
        for view in self.views {
            builder.view(view);
        }
        self.drawn.iter().for_each(|drawn| builder.drawn(drawn));
        self.highlights.iter().for_each(|highlight| builder.highlight(highlight));
        builder.form(&self.form, self.key);
        builder.mail(self.form.table, self.mail);
        for table in self.tables {
            builder.show_all(table.name);
            builder.rows(table);
        }
        if let Some((table, field)) = self.people {
            builder.people(table, field);
        }
        for role in self.roles {
            builder.role(role);
        }
    }
}

struct Builder<'a> {
    ds: &'a mut Dataset,
    clock: &'a Clock,
}

impl Builder<'_> {
    fn done(&mut self, intent: &Intent) -> Option<u32> {
        let decision = self.ds.decide(intent, Asker::Westerfall, self.clock).unwrap_or_else(|f| panic!("{intent:?}: {f:?}"));
        self.ds.apply(&decision.change);
        decision.made
    }

    fn table_id(&self, name: &str) -> TableId {
        self.ds.tables().find(|t| t.def.name == name).unwrap_or_else(|| panic!("no table {name}")).def.id
    }

    fn field_id(&self, table: TableId, name: &str) -> FieldId {
        let home = self.ds.table(table).expect("a table");
        home.def.fields.iter().find(|f| f.name == name).unwrap_or_else(|| panic!("no field {name} in {}", home.def.name)).id
    }

    fn table(&mut self, sketch: &TableSketch) {
        let (first, rest) = sketch.fields.split_first().expect("a table has fields");
        let def = TableDef::new(TableId::new(1).expect("a number"), sketch.name, sketch.one, id(), vec![plain(first)]);
        self.done(&Intent::Table(TableChange::Add(def)));
        let table = self.table_id(sketch.name);
        for line in rest {
            self.field(table, line);
        }
    }

    /// A field from its line; links, summaries and formulas need the tables that are there.
    fn field(&mut self, table: TableId, line: &str) {
        let (name, kind) = line.split_once(": ").unwrap_or_else(|| panic!("{line}"));
        let mut other = None;
        let field = match kind.split_once(' ') {
            Some(("link" | "links", to)) => {
                let (to, back) = to.split_once(" as ").unwrap_or((to, ""));
                let home = &self.ds.table(table).expect("a table").def.name;
                other = Some(OtherSide { name: if back.is_empty() { home.clone() } else { back.into() }, one: false });
                let link = Link { to: self.table_id(to), back: id(), one: kind.starts_with("link "), holds: true };
                FieldDef::new(id(), name, Kind::Link(link))
            }
            Some(("carried", path)) => {
                let (link, field) = path.split_once('.').expect("link.field");
                let link = self.field_id(table, link);
                let to = self.ds.table(table).and_then(|t| t.link(link)).expect("a link").to;
                FieldDef::new(id(), name, Kind::Carried { links: vec![link], field: self.field_id(to, field) })
            }
            Some((figure @ ("count" | "sum" | "average" | "latest"), path)) => {
                let (link, of) = path.split_once('.').map_or((path, None), |(link, of)| (link, Some(of)));
                let link = self.field_id(table, link);
                let to = self.ds.table(table).and_then(|t| t.link(link)).expect("a link").to;
                let field = of.map(|of| self.field_id(to, of));
                let figure = match figure {
                    "count" => Figure::Count,
                    "sum" => Figure::Sum,
                    "average" => Figure::Average,
                    _ => Figure::Latest,
                };
                let shows = self.ds.summary_kind(to, figure, field).unwrap_or_else(|| panic!("{line}"));
                let summary = Summary { links: vec![link], figure, field, condition: Condition::default(), shows: Box::new(shows) };
                FieldDef::new(id(), name, Kind::Summary(summary))
            }
            Some(("=", formula)) => {
                let (formula, shown) = formula.split_once(" as ").unwrap_or((formula, ""));
                let reading = westerfall_core::formula::Formula::read(formula, self.ds, table);
                assert!(reading.faults.is_empty(), "{line}: {:?}", reading.faults);
                let shows = if shown.is_empty() { Kind::of_type(reading.result.of) } else { kind_of(shown) };
                FieldDef::new(id(), name, Kind::Calculation { formula: reading.formula, shows: Box::new(shows) })
            }
            _ => plain(line),
        };
        self.done(&Intent::Fields { table, change: FieldChange::Add { field, before: None, other } });
    }

    fn rows(&mut self, sketch: &TableSketch) {
        let table = self.table_id(sketch.name);
        let fields: Vec<FieldDef> = sketch
            .fields
            .iter()
            .map(|line| line.split_once(": ").expect("a line").0)
            .map(|name| {
                let id = self.field_id(table, name);
                self.ds.table(table).and_then(|t| t.def.field(id)).expect("a field").clone()
            })
            .collect();
        let entered: Vec<&FieldDef> = fields.iter().filter(|f| f.kind.takes_input()).collect();
        let record = |line: &&str| {
            let cells = entered.iter().zip(line.split('|').map(str::trim)).filter(|(_, text)| !text.is_empty());
            cells.map(|(field, text)| (field.id, self.input(field, text))).collect()
        };
        let records = sketch.rows.iter().map(record).collect();
        self.done(&Intent::Add { table, records });
    }

    fn input(&self, field: &FieldDef, text: &str) -> Input {
        let Kind::Link(link) = field.kind else { return Input::Text(text.into()) };
        let home = self.ds.table(link.to).expect("a table");
        let lens = westerfall_core::access::Lens::new(self.ds, Asker::Westerfall, self.clock);
        let find = |name: &str| {
            let found = lens.records(link.to).find(|r| lens.record_name(link.to, *r).is_some_and(|n| n.name == name));
            found.unwrap_or_else(|| panic!("no {} called {name}", home.def.one))
        };
        Input::Value(Value::Links(text.split(';').map(|name| find(name.trim())).collect()))
    }

    fn condition(&self, table: TableId, only: &[Only]) -> Condition {
        let test = |one: &Only| {
            let options = |field: FieldId, names: &[&str]| -> Vec<OptionId> {
                let (_, def) = self.ds.field(field).expect("a field");
                names.iter().map(|n| def.kind.options().iter().find(|o| o.name == *n).unwrap_or_else(|| panic!("{n}")).id).collect()
            };
            let (name, check): (&str, Box<dyn Fn(FieldId) -> Check>) = match one {
                Only::Is(name, any) => (name, Box::new(move |f| Check::Option { not: false, any: options(f, any) })),
                Only::Not(name, any) => (name, Box::new(move |f| Check::Option { not: true, any: options(f, any) })),
                Only::Within(name, period) => (name, Box::new(move |_| Check::Within { period: *period })),
                Only::Empty(name) => (name, Box::new(|_| Check::Empty)),
                Only::Yes(name) => (name, Box::new(|_| Check::Yes)),
                Only::Over(name, than) => (name, Box::new(|_| Check::Number { how: Comparison::Over, than: (*than).into() })),
                Only::Past(name) => (name, Box::new(|_| Check::Day { how: Comparison::Under, than: When::Today(0) })),
                Only::No(name) => (name, Box::new(|_| Check::No)),
                Only::Mine(name) => (name, Box::new(|_| Check::MyRecord { not: false })),
            };
            let field = self.field_id(table, name);
            Condition::Test(Test { path: vec![field], of: Quantity::Any, check: check(field) })
        };
        Condition::All(only.iter().map(test).collect())
    }

    fn people(&mut self, table: &str, field: &str) {
        let table = self.table_id(table);
        let mine = MineBy { own: Some(self.field_id(table, field)), ..self.ds.table(table).expect("a table").def.mine };
        self.done(&Intent::Table(TableChange::Mine { table, mine }));
    }

    fn role(&mut self, sketch: &RoleSketch) {
        let gives = |(table, gives): &(&str, Gives)| {
            let table = self.table_id(table);
            let looks = TableRights { look: Reach::All, ..TableRights::default() };
            let rights = match gives {
                Gives::Looks => looks,
                Gives::Adds => TableRights { add: true, change: Reach::Mine, ..looks },
                Gives::Changes(only) => TableRights { change: Reach::Where(self.condition(table, only)), ..looks },
                Gives::Works => TableRights { add: true, change: Reach::All, ..looks },
            };
            (table, rights)
        };
        let role = Role {
            id: RoleId::FIRST,
            name: sketch.name.into(),
            about: sketch.about.into(),
            base: Base::Own,
            members: Default::default(),
            groups: Default::default(),
            tables: sketch.gives.iter().map(gives).collect(),
        };
        self.done(&Intent::Make(Part::Role(role)));
    }

    fn shown(&self, table: TableId) -> Vec<ShownField> {
        let def = &self.ds.table(table).expect("a table").def;
        let fields = def.fields.iter().filter(|f| !f.kind.is_kept_by_us());
        fields.map(|f| ShownField { field: f.id, width: f.kind.usual_width() }).collect()
    }

    fn view(&mut self, sketch: &ViewSketch) {
        let table = self.table_id(sketch.table);
        let order = |name: &&str| {
            let (name, descending) = name.strip_prefix('-').map_or((*name, false), |name| (name, true));
            Order { field: self.field_id(table, name), descending }
        };
        let group = |name: &&str| {
            let Order { field, descending } = order(name);
            GroupBy { descending, ..GroupBy::of(field) }
        };
        let query = Query {
            condition: self.condition(table, sketch.only),
            groups: sketch.group.iter().map(group).collect(),
            sorts: sketch.sort.iter().map(order).collect(),
            fields: self.shown(table),
            tallies: sketch.sum.iter().map(|name| Tally { field: self.field_id(table, name), figure: Figure::Sum }).collect(),
            ..Query::default()
        };
        let id = ViewId::new(1).expect("a number");
        self.done(&Intent::Make(Part::View(View::new(id, table, sketch.name, query))));
    }

    fn drawn(&mut self, sketch: &DrawnSketch) {
        let table = self.table_id(sketch.table);
        let field = |name: &str| self.field_id(table, name);
        let def = &self.ds.table(table).expect("a table").def;
        let width = |id: FieldId| def.field(id).map_or(150, |field| field.kind.usual_width());
        let shape = match sketch.shape {
            ShapeSketch::Lanes(by) => Shape::Lanes(Lanes::by(field(by))),
            ShapeSketch::Days(dates) => {
                let date = |(start, end): &(&str, Option<&str>)| AlmanacDate { start: field(start), end: end.map(field) };
                Shape::Calendar(Almanac::by(dates.iter().map(date).collect()))
            }
            ShapeSketch::Cards(_) => Shape::Cards(Cards::default()),
        };
        let groups = if let ShapeSketch::Cards(by) = sketch.shape { vec![GroupBy::of(field(by))] } else { Vec::new() };
        let query = Query {
            condition: self.condition(table, sketch.only),
            groups,
            fields: sketch.fields.iter().map(|name| field(name)).map(|id| ShownField { field: id, width: width(id) }).collect(),
            tallies: sketch.sum.iter().map(|name| Tally { field: field(name), figure: Figure::Sum }).collect(),
            shape,
            ..Query::default()
        };
        self.done(&Intent::Make(Part::View(View::new(ViewId::FIRST, table, sketch.name, query))));
    }

    fn highlight(&mut self, sketch: &HighlightSketch) {
        let table = self.table_id(sketch.table);
        let mut look = Look::default();
        for one in sketch.looks {
            match one {
                Looks::Bold => look.bold = true,
                Looks::Struck => look.struck = true,
                Looks::Quiet => look.ink = Some(Ink::Quiet),
                Looks::Edge(hue) => look.edge = Some(*hue),
                Looks::Sign(name, hue) => look.sign = Some(Sign { name: (*name).into(), hue: Some(*hue) }),
                Looks::Word(word) => look.word = (*word).into(),
            }
        }
        let touch = sketch.field.map_or_else(|| Touch::whole(look.clone()), |name| Touch::of(self.field_id(table, name), look.clone()));
        let condition = self.condition(table, sketch.only);
        self.done(&Intent::Make(Part::Highlight(Highlight::new(HighlightId::FIRST, table, condition, vec![touch]))));
    }

    /// The view of all records shows the fields that came after it was made.
    fn show_all(&mut self, table: &str) {
        let table = self.table_id(table);
        let mut all = self.ds.views().find(|v| v.table == table && v.name.starts_with("All ")).expect("a view of all").clone();
        all.query.fields = self.shown(table);
        self.done(&Intent::Save(Part::View(all)));
    }

    fn form(&mut self, sketch: &FormSketch, key: &str) {
        let table = self.table_id(sketch.table);
        let question = |(field, label): &(&str, &str)| {
            let heading = sketch.heads.iter().find(|(of, _)| of == field).map(|(_, heading)| heading.to_string());
            let when = sketch.when.iter().find(|(of, _)| of == field).map(|(_, only)| std::slice::from_ref(only));
            Question {
                required: label.ends_with('*'),
                above: heading.map(|heading| Above { heading, text: String::new() }),
                shown: Shown { condition: self.condition(table, when.unwrap_or_default()), parameters: Vec::new() },
                ..Question::new(self.field_id(table, field), label.trim_end_matches('*'))
            }
        };
        let shows = sketch.follow.iter().map(|name| self.field_id(table, name)).collect();
        let thanks = Wording::parse(sketch.thanks, self.ds, table).unwrap_or_else(|f| panic!("{}: {f:?}", sketch.thanks));
        let form = Form {
            intro: sketch.intro.into(),
            questions: sketch.asks.iter().map(question).collect(),
            confirmation: thanks,
            following: (!sketch.follow.is_empty()).then(|| Following { shows, ..Following::default() }),
            send_label: sketch.send.into(),
            open: true,
            ..Form::new(FormId::new(1).expect("a number"), table, sketch.title, &format!("template-{key}"))
        };
        self.done(&Intent::Make(Part::Form(form)));
    }

    fn mail(&mut self, table: &str, (name, to, subject, body): (&str, &str, &str, &str)) {
        let table = self.table_id(table);
        let text = |text: &str| Wording::parse(text, self.ds, table).unwrap_or_else(|f| panic!("{text}: {f:?}"));
        let mut path = Vec::new();
        let mut at = table;
        for name in to.split('.') {
            let field = self.field_id(at, name);
            at = self.ds.table(at).and_then(|t| t.link(field)).map_or(at, |l| l.to);
            path.push(field);
        }
        let step = Step::Mail {
            to: Recipient::Field(path),
            subject: text(subject),
            body: text(body),
            digest: false,
            reply: None,
            encloses: None,
            text: None,
        };
        let automation = Automation {
            id: AutomationId::new(1).expect("a number"),
            table,
            name: name.into(),
            // It writes to nobody before somebody has looked at it.
            on: false,
            when: Occasion::Form(None),
            condition: Condition::default(),
            steps: vec![step],
            before: Default::default(),
            acts_for: None,
            unsaid: false,
            draft: None,
        };
        self.done(&Intent::Make(Part::Automation(automation)));
    }
}

/// A field that needs nothing else.
fn plain(line: &str) -> FieldDef {
    let (name, kind) = line.split_once(": ").unwrap_or_else(|| panic!("{line}"));
    let (kind, required) = kind.strip_suffix('!').map_or((kind, false), |kind| (kind, true));
    let (kind, preset) = match kind.strip_suffix(" today") {
        Some(kind) => (kind, Some(Preset::Now)),
        None => (kind, None),
    };
    FieldDef { required, preset, ..FieldDef::new(id(), name, kind_of(kind)) }
}

fn kind_of(text: &str) -> Kind {
    let (kind, more) = text.split_once(' ').unwrap_or((text, ""));
    let options = || {
        let option = |(n, name): (usize, &str)| Choice {
            id: OptionId::new(u32::try_from(n).unwrap_or(0) + 1).expect("a number"),
            name: name.trim().into(),
            hue: Hue::nth(n),
            under: None,
        };
        more.split('/').enumerate().map(option).collect()
    };
    match kind {
        "text" => Kind::Text { limit: 200 },
        "long" => Kind::LongText,
        "number" => Kind::Number { decimals: if more.is_empty() { 0 } else { 1 }, unit: more.into() },
        "whole" => Kind::Number { decimals: 0, unit: more.into() },
        "money" => Kind::Money { currency: "GBP".into() },
        "rating" => Kind::Rating { most: 5 },
        "yes" => Kind::YesNo,
        "date" => Kind::Date,
        "range" => Kind::Range,
        "choice" => Kind::Choice { options: options(), on: None },
        "choices" => Kind::Choices { options: options() },
        "email" => Kind::Email,
        "phone" => Kind::Phone,
        "person" => Kind::Person,
        "place" => Kind::Place,
        "numbering" => {
            let counter = NumberPart::Counter { digits: 3, restarts: Restart::Never };
            Kind::Numbering { parts: vec![NumberPart::Fixed { text: more.into() }, counter] }
        }
        other => panic!("no kind {other}"),
    }
}
