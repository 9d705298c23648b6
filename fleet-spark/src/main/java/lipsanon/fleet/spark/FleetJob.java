package lipsanon.fleet.spark;

import static org.apache.spark.sql.functions.col;
import static org.apache.spark.sql.functions.from_json;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import lipsanon.fleet.ChildTask;
import lipsanon.fleet.FleetSchema;
import lipsanon.fleet.Item;
import lipsanon.fleet.Plan;
import org.apache.hadoop.fs.FileSystem;
import org.apache.spark.api.java.JavaRDD;
import org.apache.spark.api.java.JavaSparkContext;
import org.apache.spark.sql.Column;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.RowFactory;
import org.apache.spark.sql.SaveMode;
import org.apache.spark.sql.SparkSession;
import org.apache.spark.sql.types.StructType;
import scala.Tuple2;

/**
 * The job: each snapshot that is not done yet is one task, its rows go to a raw table by a single
 * action, and from there, sorted, to the tables by day and service. The files of a run are moved in
 * when all of them are written, those of {@code snapshots} last; a run that ended in between is
 * finished by the next. So nothing is counted twice, whatever was killed when. Where a partition
 * has files of several runs then, they are joined into one.
 *
 * <p>Arguments: the file of the {@link Plan}, then the names of the archives that tasks need. On
 * standard output some of the snapshots that failed are told, {@code lipsanon-fleet: failed FILE:
 * WHY}, and last {@code lipsanon-fleet: done N failed N before N}.
 */
public final class FleetJob {
  /** Of so many snapshots that failed it is said why. */
  private static final int TOLD = 3;

  private static final String RAW = "task STRING, kind STRING, line STRING";

  private final SparkSession spark;
  private final Plan plan;
  private final ClusterTables tables;

  private FleetJob(SparkSession spark, Plan plan) throws IOException {
    this.spark = spark;
    this.plan = plan;
    org.apache.hadoop.fs.Path root = new org.apache.hadoop.fs.Path(plan.tables());
    FileSystem system = root.getFileSystem(spark.sparkContext().hadoopConfiguration());
    this.tables = new ClusterTables(system, root);
  }

  /** Runs. */
  public static void main(String[] args) throws Exception {
    Plan plan = Plan.read(Path.of(args[0]));
    List<String> archives = List.of(args).subList(1, args.length);
    SparkSession spark =
        SparkSession.builder()
            .appName("lipsanon-fleet")
            .config("spark.sql.session.timeZone", "UTC")
            // a second copy of a task would only do the same work again
            .config("spark.speculation", "false")
            .getOrCreate();
    try {
      new FleetJob(spark, plan).run(archives);
    } finally {
      spark.stop();
    }
  }

  private void run(List<String> archives) throws IOException {
    tables.finishEarlierRuns();
    Set<String> done = done();
    List<Item> open = plan.items().stream().filter(item -> !done.contains(item.key())).toList();
    long failed = 0;
    if (!open.isEmpty()) {
      ClusterTask task =
          new ClusterTask(
              new ArrayList<>(archives),
              plan.memoryBytes(),
              plan.hidingKey(),
              new ArrayList<>(plan.mine()),
              plan.timeoutMillis(),
              settings());
      String run = UUID.randomUUID().toString();
      String raw = tables.raw(run);
      analyse(open, task, raw);
      failed = write(run, raw);
      List<String> partitions = tables.partitions(run);
      tables.complete(run);
      join(partitions);
    }
    System.out.println(
        "lipsanon-fleet: done "
            + (open.size() - failed)
            + " failed "
            + failed
            + " before "
            + (plan.items().size() - open.size()));
  }

  /** What the engine was told of file systems: credentials and the like. */
  private Map<String, String> settings() {
    Map<String, String> settings = new HashMap<>();
    for (Tuple2<String, String> setting :
        spark.sparkContext().getConf().getAllWithPrefix("spark.hadoop.")) {
      settings.put(setting._1(), setting._2());
    }
    return settings;
  }

  private Set<String> done() throws IOException {
    Set<String> done = new HashSet<>();
    if (tables.exist(FleetSchema.SNAPSHOTS)) {
      for (Row row :
          spark
              .read()
              .parquet(tables.path(FleetSchema.SNAPSHOTS.table()))
              .where("status = 'ok'")
              .select("task")
              .collectAsList()) {
        done.add(row.getString(0));
      }
    }
    return done;
  }

  /** The only action on the tasks: what it would be repeated for is written. */
  private void analyse(List<Item> open, ClusterTask task, String raw) {
    JavaSparkContext context = JavaSparkContext.fromSparkContext(spark.sparkContext());
    JavaRDD<Row> rows = context.parallelize(open, open.size()).flatMap(item -> rows(task, item));
    spark
        .createDataFrame(rows, StructType.fromDDL(RAW))
        .write()
        .mode(SaveMode.Overwrite)
        .parquet(raw);
  }

  private static Iterator<Row> rows(ClusterTask task, Item item)
      throws IOException, InterruptedException {
    List<Row> rows = new ArrayList<>();
    String text = new String(task.run(item), StandardCharsets.UTF_8);
    for (String line : text.split("\n")) {
      if (!line.isBlank()) {
        // {"table":"holders",…
        int from = line.indexOf(':') + 2;
        rows.add(
            RowFactory.create(item.key(), line.substring(from, line.indexOf('"', from)), line));
      }
    }
    return rows.iterator();
  }

  /** Writes all tables of a run; how many snapshots failed. */
  private long write(String run, String raw) {
    Dataset<Row> all = spark.read().parquet(raw);
    for (FleetSchema table : FleetSchema.values()) {
      String columns =
          table.columns().replace("VARCHAR", "STRING").replace("TIMESTAMP", "TIMESTAMP_NTZ");
      all.where(col("kind").equalTo(table.table()))
          .select(from_json(col("line"), columns, Map.of()).as("row"))
          .select("row.*")
          .repartition(col("day"), col("service"))
          .sortWithinPartitions(order(table))
          .write()
          .mode(SaveMode.Overwrite)
          .option("compression", "zstd")
          .partitionBy("day", "service")
          .parquet(tables.staged(run, table.table()));
    }
    Dataset<Row> failed =
        all.where(col("kind").equalTo(FleetSchema.SNAPSHOTS.table()))
            .where(col("line").contains(ChildTask.FAILED_MARK));
    long count = failed.count();
    if (count > 0) {
      tellSome(failed);
    }
    return count;
  }

  /** Says why some snapshots failed, for whoever does not read the tables now. */
  private static void tellSome(Dataset<Row> failed) {
    Dataset<Row> some =
        failed
            .select(from_json(col("line"), "file STRING, problem STRING", Map.of()).as("row"))
            .select("row.file", "row.problem")
            .orderBy("file")
            .limit(TOLD);
    for (Row row : some.collectAsList()) {
      System.out.println("lipsanon-fleet: failed " + row.getString(0) + ": " + row.getString(1));
    }
  }

  /** What rows are sorted by within a file. */
  private static Column[] order(FleetSchema table) {
    List<String> sorted = new ArrayList<>(table.names());
    sorted.retainAll(Set.of("what", "held_by", "type", "host", "taken"));
    return sorted.stream().map(name -> col(name)).toArray(Column[]::new);
  }

  /** Makes one file of those of several runs, in the partitions that this one has added to. */
  private void join(List<String> partitions) throws IOException {
    String run = UUID.randomUUID().toString();
    List<String> joined = new ArrayList<>();
    for (String partition : partitions) {
      List<String> files = tables.files(partition);
      if (files.size() > 1) {
        String name = partition.substring(0, partition.indexOf('/'));
        FleetSchema table = FleetSchema.valueOf(name.toUpperCase(Locale.ROOT));
        spark
            .read()
            // later versions may have more columns
            .option("mergeSchema", "true")
            .parquet(files.stream().map(tables::path).toArray(String[]::new))
            .coalesce(1)
            .sortWithinPartitions(order(table))
            .write()
            .mode(SaveMode.Overwrite)
            .option("compression", "zstd")
            .parquet(tables.staged(run, partition));
        joined.addAll(files);
      }
    }
    if (!joined.isEmpty()) {
      tables.replace(run, joined);
    }
  }
}
