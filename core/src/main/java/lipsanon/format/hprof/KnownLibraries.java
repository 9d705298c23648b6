package lipsanon.format.hprof;

/**
 * Packages of libraries that very many programs bring along, by their first parts. Only for
 * programs of which nothing tells what is their own: a server or a launcher started them, and all
 * they consist of are archives in one folder.
 */
final class KnownLibraries {
  private static final String[] PREFIXES = {
    "akka.",
    "antlr.",
    "ch.qos.",
    "com.arjuna.",
    "com.codahale.",
    "com.fasterxml.",
    "com.github.benmanes.",
    "com.google.",
    "com.hazelcast.",
    "com.microsoft.",
    "com.mongodb.",
    "com.mysql.",
    "com.squareup.",
    "com.typesafe.",
    "com.zaxxer.",
    "groovyjarjarantlr4.",
    "io.agroal.",
    "io.grpc.",
    "io.lettuce.",
    "io.micrometer.",
    "io.netty.",
    "io.opentelemetry.",
    "io.prometheus.",
    "io.quarkus.",
    "io.reactivex.",
    "io.smallrye.",
    "io.undertow.",
    "io.vertx.",
    "jakarta.",
    "kotlin.",
    "kotlinx.",
    "liquibase.",
    "net.bytebuddy.",
    "okhttp3.",
    "okio.",
    "oracle.jdbc.",
    "org.antlr.",
    "org.apache.",
    "org.bouncycastle.",
    "org.codehaus.",
    "org.eclipse.",
    "org.ehcache.",
    "org.flywaydb.",
    "org.glassfish.",
    "org.h2.",
    "org.hibernate.",
    "org.infinispan.",
    "org.jboss.",
    "org.jetbrains.",
    "org.jgroups.",
    "org.joda.",
    "org.junit.",
    "org.mariadb.",
    "org.mockito.",
    "org.objectweb.",
    "org.postgresql.",
    "org.quartz.",
    "org.reactivestreams.",
    "org.slf4j.",
    "org.springframework.",
    "org.wildfly.",
    "org.xnio.",
    "org.yaml.",
    "play.",
    "reactor.",
    "scala."
  };

  private KnownLibraries() {}

  /** Whether a class is of one of them. */
  static boolean has(String type) {
    return JdkNames.begins(type, PREFIXES);
  }
}
