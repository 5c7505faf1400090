//! A database for each test, cloned from one that holds a small demo; and a client that speaks to the router.

use axum::{
    Router,
    body::Body,
    http::{Method, Request, StatusCode, header},
};
use http_body_util::BodyExt;
use serde_json::{Value, json};
use std::{
    path::PathBuf,
    sync::atomic::{AtomicU32, Ordering},
};
use tokio::sync::OnceCell;
use tokio_postgres::NoTls;
use tower::ServiceExt;
use westerfall_server::{
    api,
    app::App,
    demo, message_room, post_room,
    settings::{CallsOut, MailOut, Settings},
    worker,
};
use westerfall_store::{Files, Store};

/// Faults in the tests' demo; the last three came by the form.
pub(crate) const FAULTS: usize = 60;
/// Tables and fields of the demo, by number.
pub(crate) const SECTIONS: u32 = 2;
pub(crate) const FAULT_TABLE: u32 = 3;
pub(crate) const TITLE: u32 = 41;
pub(crate) const SECTION: u32 = 42;
pub(crate) const STATUS: u32 = 47;
pub(crate) const PLANNED: u32 = 222;
pub(crate) const REPORTER: u32 = 51;
pub(crate) const PICTURES: u32 = 54;
pub(crate) const DESCRIPTION: u32 = 55;
pub(crate) const BLOCKED: u32 = 78;
pub(crate) const FORM: &str = "/api/public/forms/report-a-path-fault";
pub(crate) const NADIA: u32 = 1;
pub(crate) const TAMSIN: u32 = 2;
pub(crate) const IDRIS: u32 = 3;
pub(crate) const BEX: u32 = 6;
pub(crate) const PAVEL: u32 = 7;
pub(crate) const WREN: u32 = 8;

static TEMPLATE: OnceCell<String> = OnceCell::const_new();
static NUMBER: AtomicU32 = AtomicU32::new(0);

fn server() -> String {
    std::env::var("WESTERFALL_TEST_SERVER").expect("these tests need a PostgreSQL server: run them with bin/test")
}

fn folder() -> PathBuf {
    std::env::temp_dir().join(format!("westerfall-tests-{}", std::process::id()))
}

async fn sql(statement: &str) {
    let (client, connection) = tokio_postgres::connect(&format!("{}/postgres", server()), NoTls).await.expect("the server answers");
    let line = tokio::spawn(connection);
    client.batch_execute(statement).await.expect("the statement is right");
    drop(client);
    let _ = line.await;
}

pub(crate) fn settings() -> Settings {
    Settings {
        demo: true,
        web: PathBuf::from("nowhere"),
        public_url: "http://westerfall.example".into(),
        program: env!("CARGO_BIN_EXE_westerfall").into(),
        papers: PathBuf::from(env!("CARGO_BIN_EXE_westerfall")).with_file_name("westerfall-papers"),
        mail: MailOut {
            url: "smtp://127.0.0.1:1".into(),
            own_post_room: true,
            sender: "Westerfall <westerfall@orrindale-paths.example>".into(),
            domain: "westerfall.example".into(),
            inward: vec!["in.westerfall.example".into()],
        },
        chat: None,
        text: None,
        calls: CallsOut::default(),
        hold: jiff::SignedDuration::from_secs(1),
        burst: 1_000,
        proxies: 0,
        request_time: std::time::Duration::from_secs(60),
        idle: 3_600,
        metrics_token: None,
    }
}

async fn open(database: &str, settings: Settings) -> App {
    let store = Store::open(&format!("{}/{database}", server())).await.expect("the database opens");
    App::open(store, Files::in_folder(&folder()).expect("a folder for files"), settings).await.expect("the parts fit")
}

async fn template() -> &'static str {
    TEMPLATE
        .get_or_init(|| async {
            let name = format!("template_{}", std::process::id());
            sql(&format!("CREATE DATABASE {name}")).await;
            // A runtime of its own, so that every connection to the template is gone when it ends.
            let database = name.clone();
            tokio::task::spawn_blocking(move || {
                let runtime = tokio::runtime::Runtime::new().expect("a runtime");
                runtime.block_on(async { demo::load(&open(&database, settings()).await, FAULTS).await.expect("the demo loads") });
            })
            .await
            .expect("the template is made");
            put_off_the_morning(&name).await;
            name
        })
        .await
}

/// What the demo sends each morning comes half a day from now, or with the last minute of today, so that no test sees it come while
/// it counts. At a time of today that is past it would come at once, and at that of yesterday, where it was not noted as past.
async fn put_off_the_morning(database: &str) {
    let now = jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::get(westerfall_demo::ZONE).expect("the demo's zone is known"));
    let at = (i32::from(now.hour()) * 60 + i32::from(now.minute()) + 12 * 60).min(24 * 60 - 1);
    let (client, connection) = tokio_postgres::connect(&format!("{}/{database}", server()), NoTls).await.expect("the server answers");
    let line = tokio::spawn(connection);
    let put_off = format!(
        "UPDATE part SET body = replace(body::text, '\"at\":420', '\"at\":{at}')::json WHERE sort = 'automation' AND body::text LIKE '%\"at\":420%'"
    );
    assert_eq!(client.execute(&put_off, &[]).await.expect("the statement is right"), 1, "the demo has one round of the morning");
    let until_now = "UPDATE occasion SET upto = now() WHERE automation_id IN (SELECT number FROM part WHERE sort = 'automation' AND body::text LIKE '%\"every\"%')";
    assert_eq!(client.execute(until_now, &[]).await.expect("the statement is right"), 1, "it came as often as it could until now");
    drop(client);
    let _ = line.await;
}

/// A server of its own for one test.
pub(crate) struct World {
    pub(crate) app: App,
    router: Router,
    database: String,
}

impl World {
    pub(crate) async fn new() -> Self {
        Self::with(settings()).await
    }

    /// With a worker and a post room, so that mails are sent.
    pub(crate) async fn sending() -> Self {
        let world = Self::new().await;
        let door = westerfall_server::ways::Door::default();
        let address = post_room::open(world.app.store.clone(), ([127, 0, 0, 1], 0).into(), 1_000_000, door.clone()).expect("a free port");
        let messages = message_room::open(world.app.store.clone()).await.expect("a free port");
        let mail = MailOut { url: format!("smtp://{address}"), ..settings().mail };
        let (chat, text) = (Some(messages.way(message_room::CHAT)), Some(messages.way(message_room::TEXT)));
        let world = world.again(Settings { mail, chat, text, ..settings() }).await;
        let _ = door.set(world.app.clone());
        worker::start(world.app.clone()).expect("the mail server’s address is right");
        world
    }

    pub(crate) async fn with(settings: Settings) -> Self {
        let database = format!("test_{}_{}", std::process::id(), NUMBER.fetch_add(1, Ordering::Relaxed));
        sql(&format!("CREATE DATABASE {database} TEMPLATE {}", template().await)).await;
        let app = open(&database, settings).await;
        Self { router: api::router(app.clone()), app, database }
    }

    /// Of a team that nobody has begun.
    pub(crate) async fn empty() -> Self {
        let database = format!("test_{}_{}", std::process::id(), NUMBER.fetch_add(1, Ordering::Relaxed));
        sql(&format!("CREATE DATABASE {database}")).await;
        let app = open(&database, Settings { demo: false, ..settings() }).await;
        Self { router: api::router(app.clone()), app, database }
    }

    /// The last letter of the team to an address that was not sent yet.
    pub(crate) async fn letter(&self, to: &str) -> Option<String> {
        let query = "SELECT mail->>'body' FROM job WHERE tracker_id = 0 AND mail->>'to' = $1 ORDER BY id DESC LIMIT 1";
        // Letters are queued beside the answer.
        for _ in 0..40 {
            if let Some(row) = self.database().await.query_opt(query, &[&to]).await.expect("the query is right") {
                return Some(row.get(0));
            }
            tokio::time::sleep(std::time::Duration::from_millis(10)).await;
        }
        None
    }

    /// The same database under another server, as after a restart or beside the first.
    pub(crate) async fn again(&self, settings: Settings) -> Self {
        let app = open(&self.database, settings).await;
        Self { router: api::router(app.clone()), app, database: self.database.clone() }
    }

    /// Does something to the database itself.
    pub(crate) async fn sql(&self, statement: &str) {
        self.database().await.batch_execute(statement).await.expect("the statement is right");
    }

    /// A number that the database says.
    pub(crate) async fn count(&self, query: &str) -> i64 {
        self.database().await.query_one(query, &[]).await.expect("the query is right").get(0)
    }

    async fn database(&self) -> tokio_postgres::Client {
        let (client, connection) = tokio_postgres::connect(&self.address(), NoTls).await.expect("the server answers");
        tokio::spawn(connection);
        client
    }

    /// Where its database is.
    pub(crate) fn address(&self) -> String {
        format!("{}/{}", server(), self.database)
    }

    /// Another server on the same database, by another way to it.
    pub(crate) async fn by(&self, address: &str, settings: Settings) -> Self {
        let store = Store::open(address).await.expect("the database opens");
        let app = App::open(store, Files::in_folder(&folder()).expect("a folder for files"), settings).await.expect("the parts fit");
        Self { router: api::router(app.clone()), app, database: self.database.clone() }
    }

    pub(crate) async fn beside(&self) -> Self {
        let other = self.again(settings()).await;
        other.app.listen();
        other
    }

    pub(crate) fn limited(burst: u32) -> Settings {
        Settings { burst, ..settings() }
    }

    /// Somebody who is signed in.
    pub(crate) async fn person(&self, id: u32) -> Client {
        let stranger = self.stranger();
        let answer = stranger.raw(Method::POST, "/api/demo/session", &json!({ "person": id }).to_string(), &[]).await;
        assert_eq!(answer.status(), StatusCode::NO_CONTENT);
        let cookie = answer.headers()[header::SET_COOKIE].to_str().unwrap().split(';').next().unwrap().to_owned();
        Client { router: self.router.clone(), cookie: Some(cookie) }
    }

    pub(crate) fn stranger(&self) -> Client {
        Client { router: self.router.clone(), cookie: None }
    }
}

/// Somebody at the other end.
#[derive(Clone)]
pub(crate) struct Client {
    router: Router,
    pub(crate) cookie: Option<String>,
}

pub(crate) type Answer = (StatusCode, Value);

impl Client {
    /// The same server asked with other cookies.
    pub(crate) fn with(&self, cookie: Option<String>) -> Self {
        Self { router: self.router.clone(), cookie }
    }

    pub(crate) async fn send(&self, request: Request<Body>) -> axum::response::Response {
        self.router.clone().oneshot(request).await.expect("the router always answers")
    }

    pub(crate) async fn raw(&self, method: Method, path: &str, body: &str, headers: &[(&str, &str)]) -> axum::response::Response {
        let mut request = Request::builder().method(method).uri(path).header(header::CONTENT_TYPE, "application/json");
        if let Some(cookie) = &self.cookie {
            request = request.header(header::COOKIE, cookie);
        }
        for (name, value) in headers {
            request = request.header(*name, *value);
        }
        self.send(request.body(Body::from(body.to_owned())).unwrap()).await
    }

    /// What is sent signs in; gives whoever that is.
    pub(crate) async fn entering(&self, path: &str, body: Value) -> Self {
        let answer = self.raw(Method::POST, path, &body.to_string(), &[]).await;
        assert_eq!(answer.status(), StatusCode::NO_CONTENT, "{:?}", read(answer).await);
        let cookie = answer.headers()[header::SET_COOKIE].to_str().unwrap().split(';').next().unwrap().to_owned();
        self.with(Some(cookie))
    }

    pub(crate) async fn get(&self, path: &str) -> Answer {
        read(self.raw(Method::GET, path, "", &[]).await).await
    }

    pub(crate) async fn post(&self, path: &str, body: Value) -> Answer {
        read(self.raw(Method::POST, path, &body.to_string(), &[]).await).await
    }

    pub(crate) async fn put(&self, path: &str, body: Value) -> Answer {
        read(self.raw(Method::PUT, path, &body.to_string(), &[]).await).await
    }

    pub(crate) async fn delete(&self, path: &str, body: Value) -> Answer {
        read(self.raw(Method::DELETE, path, &body.to_string(), &[]).await).await
    }

    pub(crate) async fn edit(&self, record: u32, field: u32, input: Value, was: Value) -> Answer {
        let body = json!({ "edits": [{ "field": field, "input": input, "was": was }] });
        self.patch(&record_path(record), body).await
    }

    pub(crate) async fn patch(&self, path: &str, body: Value) -> Answer {
        read(self.raw(Method::PATCH, path, &body.to_string(), &[]).await).await
    }

    /// The rows of a table, unfiltered.
    pub(crate) async fn rows(&self, table: u32, fields: &[u32]) -> Value {
        let (status, body) = self.query(table, json!({ "fields": shown(fields) })).await;
        assert_eq!(status, StatusCode::OK, "{body}");
        body
    }

    /// What a view shows, with its first rows as `rows`.
    pub(crate) async fn query(&self, table: u32, query: Value) -> Answer {
        let body = json!({ "query": query, "slices": [{ "start": 0, "count": 500 }] });
        let (status, mut body) = self.post(&format!("/api/trackers/1/tables/{table}/query"), body).await;
        if status == StatusCode::OK {
            body["rows"] = body["slices"][0]["rows"].take();
        }
        (status, body)
    }

    /// Answers the demo's form; files as (field, name, bytes).
    pub(crate) async fn answer(&self, answers: Value, files: &[(u32, &str, &[u8])], key: Option<&str>) -> Answer {
        let parts: Vec<(String, &str, &[u8])> = files.iter().map(|(field, name, bytes)| (format!("file-{field}"), *name, *bytes)).collect();
        self.answer_form(FORM, &[("answers", answers)], &parts, key).await
    }

    /// Answers a form; files as (part, name, bytes).
    pub(crate) async fn answer_form(
        &self,
        form: &str,
        texts: &[(&str, Value)],
        files: &[(String, &str, &[u8])],
        key: Option<&str>,
    ) -> Answer {
        const EDGE: &str = "an-edge-between-parts";
        let mut body = Vec::new();
        for (name, text) in texts {
            body.extend(format!("--{EDGE}\r\nContent-Disposition: form-data; name=\"{name}\"\r\n\r\n{text}\r\n").bytes());
        }
        for (part, name, bytes) in files {
            body.extend(format!("--{EDGE}\r\nContent-Disposition: form-data; name=\"{part}\"; filename=\"{name}\"\r\n\r\n").bytes());
            body.extend_from_slice(bytes);
            body.extend(b"\r\n");
        }
        body.extend(format!("--{EDGE}--\r\n").bytes());
        let mut request = Request::post(form).header(header::CONTENT_TYPE, format!("multipart/form-data; boundary={EDGE}"));
        if let Some(key) = key {
            request = request.header("idempotency-key", key);
        }
        if let Some(cookie) = &self.cookie {
            request = request.header(header::COOKIE, cookie);
        }
        read(self.send(request.body(Body::from(body)).unwrap()).await).await
    }
}

pub(crate) fn record_path(record: u32) -> String {
    format!("/api/trackers/1/tables/{FAULT_TABLE}/records/{record}")
}

pub(crate) fn shown(fields: &[u32]) -> Value {
    fields.iter().map(|f| json!({ "field": f, "width": 100 })).collect()
}

pub(crate) async fn read(response: axum::response::Response) -> Answer {
    let status = response.status();
    let problem = response.headers().get(header::CONTENT_TYPE).is_some_and(|v| v == "application/problem+json");
    assert!(status.is_success() || problem, "{status} is no problem+json");
    let bytes = response.into_body().collect().await.unwrap().to_bytes();
    (status, serde_json::from_slice(&bytes).unwrap_or(Value::Null))
}

/// Answers to the demo's form that it takes, of something blocked in Eskermoor.
pub(crate) fn good_answers(title: &str) -> Value {
    json!({
        "41": { "text": title },
        "45": { "text": "stile or gate" },
        "46": { "value": { "choice": BLOCKED } },
        "42": { "value": { "links": [1] } },
        "51": { "text": "Wynn Ashdale" },
    })
}

/// A small picture, as PNG.
pub(crate) fn picture() -> Vec<u8> {
    let mut bytes = Vec::new();
    let image = image::RgbImage::from_pixel(64, 48, image::Rgb([90, 120, 70]));
    image.write_to(&mut std::io::Cursor::new(&mut bytes), image::ImageFormat::Png).unwrap();
    bytes
}

/// A part as it is sent: under its sort.
pub(crate) fn part(sort: &str, body: Value) -> Value {
    json!({ sort: body })
}
