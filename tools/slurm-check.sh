#!/usr/bin/env bash
# Draws on a real batch system: SLURM from Debian on the loopback address (munged, slurmctld and two
# slurmd, without control groups), reached through the package future.batchtools. The same bits as in
# this process, also when a job is killed in the middle. Needs root; everything it starts it stops.
#   bash tools/slurm-check.sh
# Exit status 0 when all holds, 77 (and a word) where SLURM cannot be had, 1 otherwise.
set -uo pipefail
root=$PWD
skip() { echo "slurm: skipped, $1"; exit 77; }
[ "$(id -u)" = 0 ] || skip "it needs root"
if ! command -v slurmctld > /dev/null || ! command -v munged > /dev/null; then
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends slurm-wlm munge \
    > /dev/null 2>&1 || skip "slurm-wlm and munge are not installed, nor can they be"
fi
Rscript --no-save tools/setup.R slurm > /dev/null
Rscript -e 'quit(status = !requireNamespace("future.batchtools", quietly = TRUE))' \
  || skip "the package future.batchtools is not installed"

home=$(mktemp -d /tmp/slurm-XXXXXX)
chmod 755 "$home"
export SLURM_CONF=$home/slurm.conf
stop_all() {
  scancel --user root > /dev/null 2>&1
  for pid in "$home"/*.pid; do [ -f "$pid" ] && kill "$(cat "$pid")" 2> /dev/null; done
  sleep 1
  for pid in "$home"/*.pid; do [ -f "$pid" ] && kill -9 "$(cat "$pid")" 2> /dev/null; done
  rm -rf "$home"
}
trap stop_all EXIT

free_port() { Rscript -e 'cat(parallelly::freePort())'; }
host=$(hostname -s)
# munged asks who its peers are: a socket and key of its own
mkdir -p "$home/munge"
chmod 700 "$home/munge"
dd if=/dev/urandom of="$home/munge/key" bs=64 count=1 2> /dev/null
chmod 400 "$home/munge/key"
munged --force --key-file="$home/munge/key" --socket="$home/munge.socket" \
  --pid-file="$home/munged.pid" --log-file="$home/munged.log" --seed-file="$home/munge/seed" \
  || skip "munged did not start"

mkdir -p "$home/state" "$home/one" "$home/two"
cat > "$SLURM_CONF" << END
ClusterName=check
SlurmctldHost=$host(127.0.0.1)
SlurmctldPort=$(free_port)
SlurmUser=root
SlurmdUser=root
AuthType=auth/munge
AuthInfo=socket=$home/munge.socket
CredType=cred/munge
StateSaveLocation=$home/state
SlurmdSpoolDir=$home/%n
SlurmctldPidFile=$home/slurmctld.pid
SlurmdPidFile=$home/slurmd-%n.pid
SlurmctldLogFile=$home/slurmctld.log
SlurmdLogFile=$home/slurmd-%n.log
ProctrackType=proctrack/linuxproc
TaskPlugin=task/none
JobAcctGatherType=jobacct_gather/none
AccountingStorageType=accounting_storage/none
SelectType=select/cons_tres
SelectTypeParameters=CR_CPU
SchedulerType=sched/builtin
SchedulerParameters=batch_sched_delay=0,sched_interval=1,sched_min_interval=0
MpiDefault=none
ReturnToService=2
MinJobAge=60
NodeName=one NodeHostname=$host NodeAddr=127.0.0.1 Port=$(free_port) CPUs=1
NodeName=two NodeHostname=$host NodeAddr=127.0.0.1 Port=$(free_port) CPUs=1
PartitionName=check Nodes=one,two Default=YES MaxTime=10 State=UP
END
slurmctld -c || skip "slurmctld did not start"
slurmd -N one && slurmd -N two || skip "slurmd did not start"
for _ in $(seq 40); do
  [ "$(sinfo -h -t idle -o %D 2> /dev/null)" = 2 ] && break
  sleep 0.5
done
if [ "$(sinfo -h -t idle -o %D 2> /dev/null)" != 2 ]; then
  tail -5 "$home"/*.log
  skip "its two nodes did not come up"
fi
cd "$home" && Rscript --no-save "$root/tools/slurm-check.R" "$home"
