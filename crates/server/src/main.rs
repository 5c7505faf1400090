//! The program: reads its settings, opens the store, serves until told to stop.

use clap::Parser;
use std::{net::SocketAddr, path::PathBuf};
use tokio::net::TcpListener;
use westerfall_server::{
    api,
    app::{App, Settings},
    demo, post_room, uploads, ways, worker,
};
use westerfall_store::{Files, Store};

/// Builds and runs a team's shared trackers.
#[derive(Debug, Parser)]
#[command(version)]
struct Options {
    /// Where the database is.
    #[arg(long, env = "WESTERFALL_DATABASE_URL")]
    database_url: Option<String>,
    /// Port of the interface; 0 takes a free one.
    #[arg(long, default_value_t = 8420)]
    port: u16,
    /// Folder for files.
    #[arg(long, default_value = "data/files")]
    files: PathBuf,
    /// Folder of the built interface.
    #[arg(long, default_value = "web/dist")]
    web: PathBuf,
    /// Mail server as host:port; without it, the post room takes the mail.
    #[arg(long)]
    smtp: Option<String>,
    /// Address under which people reach this server, for links in mails.
    #[arg(long)]
    public_url: Option<String>,
    /// Loads the demo team if the database is empty, and lets people be chosen with one click.
    #[arg(long)]
    demo: bool,
    /// Faults in the demo.
    #[arg(long, default_value_t = westerfall_demo::FAULTS)]
    scale: usize,
    /// Seconds after which a mail whose sending was cut off is looked at again.
    #[arg(long, default_value_t = 30)]
    hold: i64,
    /// Requests that one address may send at once to sign-in and public forms before it has to wait.
    #[arg(long, default_value_t = 40)]
    burst: u32,
    /// What the team is called, on forms that say so.
    #[arg(long, default_value = "")]
    team: String,
    /// Reads a workbook from the input and ends: how the server has sheets read apart from itself.
    #[arg(long, hide = true)]
    read_sheet: Option<usize>,
    /// Prints the description of the API and ends.
    #[arg(long)]
    print_openapi: bool,
}

#[tokio::main]
async fn main() -> Result<(), Box<dyn std::error::Error>> {
    let options = Options::parse();
    if options.print_openapi {
        println!("{}", api::description().to_pretty_json()?);
        return Ok(());
    }
    if let Some(sheet) = options.read_sheet {
        return Ok(uploads::read_sheet(sheet)?);
    }
    tracing_subscriber::fmt()
        .with_env_filter(tracing_subscriber::EnvFilter::try_from_default_env().unwrap_or_else(|_| "info,tower_http=warn".into()))
        .init();
    let url = options.database_url.ok_or("say where the database is: --database-url or WESTERFALL_DATABASE_URL")?;
    let store = Store::open(&url).await?;
    let files = Files::in_folder(&options.files)?;
    let listener = TcpListener::bind(SocketAddr::from(([127, 0, 0, 1], options.port))).await?;
    let address = listener.local_addr()?;
    let door = ways::Door::default();
    let post_room = post_room::open(store.clone(), "127.0.0.1:0", door.clone())?;
    let settings = Settings {
        demo: options.demo,
        web: options.web,
        public_url: options.public_url.unwrap_or_else(|| format!("http://{address}")),
        own_post_room: options.smtp.is_none(),
        smtp: options.smtp.unwrap_or_else(|| post_room.to_string()),
        hold: jiff::SignedDuration::from_secs(options.hold),
        program: std::env::current_exe()?,
        burst: options.burst,
        team: if options.demo && options.team.is_empty() { demo::TEAM.to_owned() } else { options.team },
    };
    let app = App::open(store, files, settings).await?;
    let _ = door.set(app.clone());
    if options.demo {
        demo::load(&app, options.scale).await?;
    }
    app.listen();
    worker::start(app.clone());
    println!("Westerfall listens on http://{address}, its post room on smtp://{post_room}");
    let service = api::router(app).into_make_service_with_connect_info::<SocketAddr>();
    axum::serve(listener, service).with_graceful_shutdown(stopped()).await?;
    Ok(())
}

/// Until Ctrl-C or a polite request to end. Live connections never end by themselves, so waiting for them has a limit.
async fn stopped() {
    let mut terminate = tokio::signal::unix::signal(tokio::signal::unix::SignalKind::terminate()).expect("signals can be heard");
    tokio::select! {
        _ = tokio::signal::ctrl_c() => {}
        _ = terminate.recv() => {}
    }
    tokio::spawn(async {
        tokio::time::sleep(std::time::Duration::from_secs(2)).await;
        std::process::exit(0);
    });
}
